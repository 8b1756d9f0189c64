package org.gantrel.service.fault;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Words;
import org.gantrel.service.change.Changes;
import org.gantrel.service.http.Paging;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Failures that go on: what, since when, who was told, who sees to it, and what was written about it. */
@RestController
@RequestMapping("/api/v1/faults")
@Transactional
class FaultApi {

    private static final int MOST_RUNS = 20;
    private static final Instant FAR = Instant.parse("9999-01-01T00:00:00Z");
    private static final int LONGEST_NOTE = 1_000;

    /**
     * A fault.
     *
     * @param badEnds how many bad ends in a row it has seen
     * @param seenBy who sees to it; missing where nobody does
     * @param closedAt when it worked again; missing while it goes on
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record FaultView(
            long id,
            String job,
            String team,
            Instant openedAt,
            long openedRun,
            Instant lastAt,
            long lastRun,
            int badEnds,
            String state,
            String message,
            String seenBy,
            Instant seenAt,
            Instant closedAt,
            Long closedRun) {}

    record NoteView(Instant at, String person, String text) {}

    /** A run while the fault went on. */
    record FaultRun(long number, String state, Instant at, String message) {}

    record FaultPage(
            FaultView fault, List<FaultRun> runs, List<FaultMessage> told, List<NoteView> notes, List<String> mayDo) {}

    record NoteBody(String text) {}

    private final FaultLedger faults;
    private final FaultMessages messages;
    private final Runs runs;
    private final Jobs jobs;
    private final Teams teams;
    private final Changes changes;
    private final Ledger ledger;
    private final Clock clock;

    FaultApi(
            FaultLedger faults,
            FaultMessages messages,
            Runs runs,
            Jobs jobs,
            Teams teams,
            Changes changes,
            Ledger ledger,
            Clock clock) {
        this.ledger = ledger;
        this.clock = clock;
        this.faults = faults;
        this.messages = messages;
        this.runs = runs;
        this.jobs = jobs;
        this.teams = teams;
        this.changes = changes;
    }

    /** @param open only those that go on */
    @GetMapping
    @Transactional(readOnly = true)
    ResponseEntity<List<FaultView>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "true") boolean open,
            @RequestParam(defaultValue = "") String job,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = "9223372036854775807") long after) {
        long of = job.isEmpty() ? 0 : jobs.visible(caller, job).id();
        Map<Long, String> names = names(caller);
        List<FaultRecord> found = faults.before(after, names.keySet(), open, of, Paging.limit(limit) + 1);
        return Paging.page(found, limit, FaultRecord::id, fault -> view(fault, names));
    }

    @GetMapping("/{id}")
    @Transactional(readOnly = true)
    FaultPage show(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        FaultRecord fault = visible(caller, id);
        Map<Long, String> names = names(caller);
        String team = names.get(fault.teamId());
        boolean whole = caller.may(Deed.SEE_DELIVERIES, team);
        return new FaultPage(
                view(fault, names),
                runs
                        .endedBetween(
                                fault.jobId(),
                                fault.openedAt(),
                                fault.closedAt().orElse(FAR),
                                MOST_RUNS)
                        .stream()
                        .map(FaultApi::run)
                        .toList(),
                whole ? messages.of(id) : List.of(),
                faults.notes(id).stream()
                        .map(note -> new NoteView(note.at(), note.person(), note.text()))
                        .toList(),
                caller.deedsIn(team).stream().map(Deed::word).toList());
    }

    private static FaultRun run(Run run) {
        return new FaultRun(run.number(), run.state().word(), run.finishedAt().orElse(run.queuedAt()), run.message());
    }

    /** Sees to a fault: nobody is reminded of it any more. */
    @PutMapping("/{id}/charge")
    FaultPage seeTo(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        FaultRecord fault = worked(caller, id);
        if (!fault.seenBy().isEmpty() && !fault.seenBy().equals(caller.name())) {
            throw Refusal.conflict(fault.seenBy() + " sees to it already");
        }
        return seen(caller, fault, true);
    }

    /** Does not see to it any more. */
    @DeleteMapping("/{id}/charge")
    FaultPage leave(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        return seen(caller, worked(caller, id), false);
    }

    private FaultPage seen(Caller caller, FaultRecord fault, boolean sees) {
        String person = sees ? caller.name() : "";
        // the run comes first, as where somebody sees to the run: two who come from both sides wait for each other in
        // one order
        runs.find(fault.lastRun())
                .filter(run -> !run.takenBy().equals(person))
                .ifPresent(run -> ledger.takeCharge(run.number(), person, clock.instant()));
        if (!fault.seenBy().equals(person)) {
            faults.seeTo(fault.id(), caller.name(), sees);
        }
        changed(caller, fault, sees ? "sees to" : "left");
        return show(caller, fault.id());
    }

    /** Writes a note for the others. */
    @PostMapping("/{id}/notes")
    FaultPage note(@AuthenticationPrincipal Caller caller, @PathVariable long id, @RequestBody NoteBody body) {
        FaultRecord fault = worked(caller, id);
        String text = body.text() == null ? "" : body.text().strip();
        if (text.isEmpty() || text.length() > LONGEST_NOTE) {
            throw new InvalidException("text", "1 to " + LONGEST_NOTE + " characters are expected");
        }
        faults.write(fault, caller.name(), text);
        return show(caller, id);
    }

    private void changed(Caller caller, FaultRecord fault, String what) {
        changes.record(
                caller, what, "fault", String.valueOf(fault.id()), names(caller).get(fault.teamId()), name(fault));
    }

    private FaultRecord worked(Caller caller, long id) {
        FaultRecord fault = visible(caller, id);
        caller.require(Deed.CANCEL_RUNS, names(caller).get(fault.teamId()));
        if (fault.closedAt().isPresent()) {
            throw Refusal.conflict(
                    "it works again since " + Words.moment(fault.closedAt().get(), ZoneOffset.UTC));
        }
        return fault;
    }

    private FaultRecord visible(Caller caller, long id) {
        return faults.find(id)
                .filter(fault -> names(caller).containsKey(fault.teamId()))
                .orElseThrow(() -> Refusal.notFound("there is no fault " + id));
    }

    private Map<Long, String> names(Caller caller) {
        return caller.among(teams.all(), Deed.SEE_RUNS).stream().collect(Collectors.toMap(Team::id, Team::name));
    }

    private String name(FaultRecord fault) {
        JobEntry job = jobs.withId(fault.jobId());
        return job.name();
    }

    private FaultView view(FaultRecord fault, Map<Long, String> names) {
        return new FaultView(
                fault.id(),
                name(fault),
                names.get(fault.teamId()),
                fault.openedAt(),
                fault.openedRun(),
                fault.lastAt(),
                fault.lastRun(),
                fault.badEnds(),
                fault.state().word(),
                fault.message(),
                fault.seenBy().isEmpty() ? null : fault.seenBy(),
                fault.seenAt().orElse(null),
                fault.closedAt().orElse(null),
                fault.closedRun().orElse(null));
    }
}
