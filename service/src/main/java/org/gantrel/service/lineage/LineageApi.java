package org.gantrel.service.lineage;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.access.Deed;
import org.gantrel.core.event.EventType;
import org.gantrel.core.run.CauseKind;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.EventRights;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunAccess;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.gantrel.service.trigger.Triggers;
import org.gantrel.service.trigger.Triggers.Came;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/**
 * What caused a run, and what it caused, both ways to any depth: starts by events, steps, rows and repeats, and the messages
 * that were sent. What a caller may not see is shown as something of another team, and nothing of it is said.
 */
@RestController
@Transactional(readOnly = true)
class LineageApi {

    private static final int MOST_PARTS = 500;
    private static final int MOST_ROWS = 20;
    private static final int HIGHEST = 100;

    /**
     * A run, an event or a message with what it caused.
     *
     * @param kind {@code run}, {@code event} or {@code message}
     * @param id the number of the run, the place of the event, the message
     * @param title the job, the type of the event, whom the message went to
     * @param state how the run stands, how far the message has come
     * @param how how it came of what stands above it
     * @param asked whether it is the one that was asked for
     * @param more how many more of its kind are left out
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record LineagePart(
            String kind,
            long id,
            String title,
            String state,
            Instant at,
            String how,
            boolean asked,
            Integer more,
            List<LineagePart> caused) {}

    private final RunAccess access;
    private final Runs runs;
    private final Jobs jobs;
    private final Journal journal;
    private final Triggers triggers;
    private final ToldOf told;

    LineageApi(RunAccess access, Runs runs, Jobs jobs, Journal journal, Triggers triggers, ToldOf told) {
        this.access = access;
        this.runs = runs;
        this.jobs = jobs;
        this.journal = journal;
        this.triggers = triggers;
        this.told = told;
    }

    /** The whole of what a run belongs to, from its first cause on. */
    @GetMapping("/api/v1/runs/{number}/lineage")
    LineagePart ofRun(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        Run run = access.visible(caller, number);
        return new Walk(caller, number, 0).fromTop(run);
    }

    /** What an event caused. */
    @GetMapping("/api/v1/journal/{id}/lineage")
    LineagePart ofEvent(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        Event event = journal.find(id)
                .filter(found -> EventRights.sees(caller, found))
                .orElseThrow(() -> Refusal.notFound("there is no event " + id));
        return new Walk(caller, 0, id).event(event, "");
    }

    private final class Walk {
        private final Caller caller;
        private final long askedRun;
        private final long askedEvent;
        private final Set<Long> seen = new HashSet<>();
        private int parts;

        private Walk(Caller caller, long askedRun, long askedEvent) {
            this.caller = caller;
            this.askedRun = askedRun;
            this.askedEvent = askedEvent;
        }

        private LineagePart fromTop(Run run) {
            Run top = run;
            Set<Long> way = new HashSet<>(Set.of(run.number()));
            Optional<Run> above = above(top);
            while (above.isPresent()
                    && way.size() < HIGHEST
                    && way.add(above.get().number())) {
                top = above.get();
                above = above(top);
            }
            Run first = top;
            // an event that no run brought about stands above all
            return triggers.cameTo(List.of(top.number())).stream()
                    .filter(came -> came.outcome().equals("started") && first.cause() == CauseKind.TRIGGER)
                    .findFirst()
                    .flatMap(came -> journal.find(came.event()))
                    .filter(event -> event.run() == null)
                    .map(event -> event(event, ""))
                    .orElseGet(() -> run(first, "", 0));
        }

        private Optional<Run> above(Run run) {
            boolean named =
                    switch (run.cause()) {
                        case TRIGGER, REPEAT, RETRY, CHAIN -> run.causeRef().matches("\\d{1,18}");
                        default -> false;
                    };
            return run.parent()
                    .or(() -> named ? Optional.of(Long.parseLong(run.causeRef())) : Optional.empty())
                    .flatMap(runs::find);
        }

        private boolean sees(Run run) {
            return caller.may(Deed.SEE_RUNS, jobs.teamOf(run.jobId()));
        }

        private LineagePart run(Run run, String how, int depth) {
            parts++;
            if (!sees(run)) {
                return new LineagePart(
                        "run", 0, "a run of another team", null, null, null, false, null, below(run, depth));
            }
            return new LineagePart(
                    "run",
                    run.number(),
                    run.jobName(),
                    run.state().word(),
                    run.startedAt().orElse(run.plannedAt()),
                    how.isEmpty() ? null : how,
                    run.number() == askedRun,
                    null,
                    below(run, depth));
        }

        private List<LineagePart> below(Run run, int depth) {
            var caused = new ArrayList<LineagePart>();
            if (!seen.add(run.number()) || depth > HIGHEST || parts > MOST_PARTS) {
                return caused;
            }
            List<Run> children = runs.children(run.number());
            children.stream()
                    .limit(run.isSweep() ? MOST_ROWS : MOST_PARTS)
                    .filter(child -> parts < MOST_PARTS)
                    .forEach(child ->
                            caused.add(run(child, (run.isSweep() ? "row " : "step ") + child.step(), depth + 1)));
            if (run.isSweep() && children.size() > MOST_ROWS) {
                caused.add(new LineagePart(
                        "run", 0, "rows", null, null, null, false, children.size() - MOST_ROWS, List.of()));
            }
            for (Run repeat : runs.causedBy(run, CauseKind.REPEAT)) {
                caused.add(run(repeat, "repeats it", depth + 1));
            }
            for (Run beside : runs.causedBy(run, CauseKind.CHAIN)) {
                if (beside.parent().isEmpty()) {
                    caused.add(run(beside, "step " + beside.step() + ", not waited for", depth + 1));
                }
            }
            for (Run started : runs.causedBy(run, CauseKind.TRIGGER)) {
                caused.add(run(started, "its trigger " + started.step(), depth + 1));
            }
            messages(run, caused);
            return caused;
        }

        private void messages(Run run, List<LineagePart> caused) {
            if (!caller.may(Deed.SEE_DELIVERIES, jobs.teamOf(run.jobId()))) {
                return;
            }
            List<Long> events = journal.of(run.number(), MOST_PARTS).stream()
                    .map(Event::position)
                    .toList();
            told.of(events).stream()
                    .limit(MOST_ROWS)
                    .forEach(each -> caused.add(new LineagePart(
                            "message",
                            each.id(),
                            each.to(),
                            each.state(),
                            each.at(),
                            each.subject(),
                            false,
                            null,
                            List.of())));
        }

        private LineagePart event(Event event, String how) {
            var caused = new ArrayList<LineagePart>();
            for (Came came : triggers.cameOf(List.of(event.position()))) {
                Optional<Run> run = came.run().flatMap(runs::find);
                run.ifPresent(found -> caused.add(run(found, came.sentence(), 1)));
            }
            String type = event.type().startsWith(EventType.PREFIX)
                    ? event.type().substring(EventType.PREFIX.length())
                    : event.type();
            Object what = event.about().getOrDefault("path", event.about().getOrDefault("message", ""));
            boolean visible = EventRights.sees(caller, event);
            return new LineagePart(
                    "event",
                    visible ? event.position() : 0,
                    type,
                    null,
                    event.at(),
                    visible && !what.toString().isEmpty() ? what.toString() : null,
                    event.position() == askedEvent,
                    null,
                    caused);
        }
    }
}
