package org.gantrel.service.trigger;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.trigger.CallGuard;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.service.change.Changes;
import org.gantrel.service.http.Paging;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.springframework.data.domain.Limit;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Triggers: what each waits for, what came of events, the switch, and a try with an event that somebody makes up. */
@RestController
@RequestMapping("/api/v1/triggers")
@Transactional
class TriggerApi {

    private static final String LAST = "9223372036854775807";

    /**
     * A trigger.
     *
     * @param on the type of event
     * @param words what it waits for, in words
     * @param offBy who switched it off
     * @param last what came of the last event
     * @param trouble why its folder or query cannot be looked at
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record TriggerView(
            String job,
            String team,
            String name,
            String on,
            String words,
            boolean switchedOn,
            String offBy,
            Instant offAt,
            FiringView last,
            String trouble,
            Instant lookedAt) {}

    /** What came of an event. @param event its place in the journal */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record FiringView(
            long id,
            long event,
            String job,
            String trigger,
            Instant at,
            String outcome,
            Long run,
            Instant planned,
            String why) {}

    /** The same with the address of one that is called, and how it is called from a shell. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record TriggerPage(
            TriggerView trigger, String address, String shell, List<FiringView> firings, List<String> mayDo) {}

    record TriggerSwitchBody(Boolean on) {}

    /** @param event what the event says, by the names of its type's fields; {@code values} for what it carries */
    record TriggerTrialBody(Map<String, Object> event) {}

    /**
     * What would start.
     *
     * @param why why nothing would, or something would go wrong
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record TriggerTrial(
            boolean starts, String job, Map<String, String> with, Instant at, String why, List<String> unknown) {}

    private final Listeners listeners;
    private final TriggerSwitches switches;
    private final Triggers triggers;
    private final FiringStore firings;
    private final WatchNotes watches;
    private final Jobs jobs;
    private final Changes changes;
    private final Settings settings;
    private final Clock clock;

    TriggerApi(
            Listeners listeners,
            TriggerSwitches switches,
            Triggers triggers,
            FiringStore firings,
            WatchNotes watches,
            Jobs jobs,
            Changes changes,
            Settings settings,
            Clock clock) {
        this.listeners = listeners;
        this.switches = switches;
        this.triggers = triggers;
        this.firings = firings;
        this.watches = watches;
        this.jobs = jobs;
        this.changes = changes;
        this.settings = settings;
        this.clock = clock;
    }

    /** All triggers that a caller may see, or those of one job. */
    @GetMapping
    @Transactional(readOnly = true)
    List<TriggerView> list(@AuthenticationPrincipal Caller caller, @RequestParam(defaultValue = "") String job) {
        Collection<JobEntry> of = job.isEmpty() ? jobs.all(caller) : List.of(jobs.visible(caller, job));
        var found = new ArrayList<TriggerView>();
        for (JobEntry entry : of) {
            if (!entry.isRetired()) {
                jobs.current(entry).triggers().forEach(trigger -> found.add(view(entry, trigger)));
            }
        }
        return found;
    }

    private TriggerView view(JobEntry job, Trigger trigger) {
        Optional<TriggerSwitch> off = switches.of(job.id(), trigger.name());
        Optional<WatchNotes.Note> watch = watches.of(job.id(), trigger.name());
        return new TriggerView(
                job.name(),
                job.team(),
                trigger.name(),
                trigger.on().word(),
                trigger.words(),
                off.isEmpty(),
                off.map(TriggerSwitch::offBy).orElse(null),
                off.map(TriggerSwitch::offAt).orElse(null),
                firings.of(job.id(), trigger.name(), Long.MAX_VALUE, Limit.of(1)).stream()
                        .findFirst()
                        .map(this::view)
                        .orElse(null),
                watch.map(WatchNotes.Note::trouble)
                        .filter(text -> !text.isEmpty())
                        .orElse(null),
                watch.flatMap(WatchNotes.Note::lookedAt).orElse(null));
    }

    private FiringView view(Firing firing) {
        return new FiringView(
                firing.id(),
                firing.eventPosition(),
                jobs.withId(firing.jobId()).name(),
                firing.triggerName(),
                firing.eventAt(),
                firing.outcome().word(),
                firing.run().orElse(null),
                firing.planned().orElse(null),
                firing.why().isEmpty() ? null : firing.why());
    }

    /** One trigger, with what came of the latest events. */
    @GetMapping("/{job}/{name}")
    @Transactional(readOnly = true)
    TriggerPage show(@AuthenticationPrincipal Caller caller, @PathVariable String job, @PathVariable String name) {
        Listening found = visible(caller, job, name);
        JobEntry entry = jobs.withId(found.job());
        Optional<String> address =
                found.trigger().source().calls().map(calls -> settings.url() + "/api/v1/calls/" + job + "/" + name);
        return new TriggerPage(
                view(entry, found.trigger()),
                address.orElse(null),
                address.map(each -> shell(each, found.trigger())).orElse(null),
                firings.of(found.job(), name, Long.MAX_VALUE, Limit.of(20)).stream()
                        .map(this::view)
                        .toList(),
                caller.deedsIn(found.team()).stream().map(Deed::word).toList());
    }

    /** How it is called from a shell. */
    private static String shell(String address, Trigger trigger) {
        CallGuard guard = trigger.source().calls().orElseThrow();
        return guard.proof() == CallGuard.Proof.TOKEN
                ? "curl -X POST " + address
                        + " -H \"Authorization: Bearer $TOKEN\" -H 'Content-Type: application/json' -d '{}'"
                : "BODY='{}'; TIME=$(date +%s); curl -X POST " + address
                        + " -H \"Gantrel-Time: $TIME\" -H \"Gantrel-Signature: sha256=$(printf '%s' \"$TIME.$BODY\""
                        + " | openssl dgst -sha256 -hmac \"$KEY\" -r | cut -d' ' -f1)\""
                        + " -H 'Content-Type: application/json' -d \"$BODY\"";
    }

    /** What came of events for a job's triggers, newest first. */
    @GetMapping("/{job}/{name}/firings")
    @Transactional(readOnly = true)
    ResponseEntity<List<FiringView>> firings(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @PathVariable String name,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = LAST) long after) {
        Listening found = visible(caller, job, name);
        List<Firing> rows = firings.of(found.job(), name, after, Limit.of(Paging.limit(limit) + 1));
        return Paging.page(rows, limit, Firing::id, this::view);
    }

    /** Switches a trigger off or on; events that come while it is off start nothing, then or later. */
    @PutMapping("/{job}/{name}/switch")
    TriggerView set(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @PathVariable String name,
            @RequestBody TriggerSwitchBody body) {
        if (body.on() == null) {
            throw new InvalidException("on", "is missing: true or false");
        }
        Listening found = visible(caller, job, name);
        caller.require(Deed.SWITCH_SCHEDULES, found.team());
        JobEntry entry = jobs.withId(found.job());
        if (switches.set(entry, name, body.on(), caller.name())) {
            changes.record(
                    caller,
                    body.on() ? "switched on" : "switched off",
                    "trigger",
                    found.address(),
                    found.team(),
                    found.trigger().words());
        }
        return view(entry, found.trigger());
    }

    /** Says what would start if such an event came, and starts nothing. */
    @PostMapping("/{job}/{name}/trial")
    @Transactional(readOnly = true)
    TriggerTrial trial(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @PathVariable String name,
            @RequestBody TriggerTrialBody body) {
        Listening found = visible(caller, job, name);
        caller.require(Deed.START_RUNS, found.team());
        Map<String, Object> says = new LinkedHashMap<>(body.event() == null ? Map.of() : body.event());
        says.computeIfPresent(EventFacts.VALUES, (key, values) -> CallSaid.values(values));
        EventType type = found.trigger().on();
        List<String> unknown = says.keySet().stream()
                .filter(key -> !type.kinds().containsKey(key) && !key.equals(EventFacts.VALUES))
                .map(key -> "'" + key + "' is no field of " + type.word()
                        + Nearest.hint(key, type.kinds().keySet()))
                .toList();
        Event event = new Event(0, type.type(), clock.instant(), null, found.team(), says);
        return triggers.trial(found, event, unknown);
    }

    private Listening visible(Caller caller, String job, String name) {
        JobEntry entry = jobs.visible(caller, job);
        Job current = jobs.current(entry);
        return listeners
                .find(job, name)
                .orElseThrow(() -> Refusal.notFound("the job " + job + " has no trigger '" + name + "'"
                        + Nearest.hint(
                                name,
                                current.triggers().stream().map(Trigger::name).collect(Collectors.toList()))));
    }
}
