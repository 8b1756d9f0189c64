package org.gantrel.service.trigger;

import java.time.Duration;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CopyOnWriteArrayList;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Expect;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.trigger.FileWatch;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.springframework.stereotype.Component;

/** The triggers of all jobs that are in use, and which of them wait for an event. */
@Component
public class Listeners {

    /** What an event says that was made for one trigger alone. */
    public static final String FOR = "for";

    private static final String CHANGED = "gantrel.job.changed";

    private final Jobs jobs;
    private final TriggerSwitches switches;
    private final List<Runnable> followers = new CopyOnWriteArrayList<>();
    private volatile Map<EventType, List<Listening>> known;
    private long generation;
    private volatile List<Listening> arrivals = List.of();

    Listeners(Jobs jobs, TriggerSwitches switches) {
        this.jobs = jobs;
        this.switches = switches;
    }

    /** Takes note of an event: what it changes is read again. */
    void hear(Event event) {
        if (event.type().equals(CHANGED)) {
            synchronized (this) {
                generation++;
                known = null;
            }
            followers.forEach(Runnable::run);
        }
    }

    /** Is told when triggers may have changed; it must come back at once. */
    public void onChange(Runnable follower) {
        followers.add(follower);
    }

    /** All triggers of one type. */
    public List<Listening> on(EventType type) {
        return all().getOrDefault(type, List.of());
    }

    /** The trigger of a job in use. */
    public Optional<Listening> find(String job, String trigger) {
        return jobs.named(job)
                .filter(entry -> !entry.isRetired())
                .flatMap(entry -> jobs.current(entry).triggers().stream()
                        .filter(each -> each.name().equals(trigger))
                        .map(each -> new Listening(entry.id(), entry.name(), entry.team(), each))
                        .findFirst());
    }

    private Map<EventType, List<Listening>> all() {
        Map<EventType, List<Listening>> found = known;
        if (found == null) {
            long before;
            synchronized (this) {
                before = generation;
            }
            found = read();
            synchronized (this) {
                // what was read while something changed may be as it was before
                known = generation == before ? found : null;
            }
        }
        return found;
    }

    private Map<EventType, List<Listening>> read() {
        Map<EventType, List<Listening>> found = new EnumMap<>(EventType.class);
        var expected = new ArrayList<Listening>();
        for (JobEntry entry : jobs.allEver()) {
            if (!entry.isRetired()) {
                jobs.current(entry)
                        .rules()
                        .expect()
                        .arrivals()
                        .ifPresent(watch -> expected.add(
                                new Listening(entry.id(), entry.name(), entry.team(), expectation(watch))));
                jobs.current(entry).triggers().forEach(trigger -> found.computeIfAbsent(
                                trigger.on(), key -> new ArrayList<>())
                        .add(new Listening(entry.id(), entry.name(), entry.team(), trigger)));
            }
        }
        arrivals = List.copyOf(expected);
        return found;
    }

    /** What watches a folder for a job that expects something there; it starts nothing. */
    private static Trigger expectation(FileWatch watch) {
        return new Trigger(
                // which is no name that a trigger can have
                "@" + Expect.ARRIVALS,
                EventType.FOLDER_SILENT,
                new JobScope(List.of(), List.of(), List.of()),
                "",
                Set.of(),
                Trigger.Source.of(watch),
                "",
                Map.of(),
                Duration.ZERO,
                Optional.empty(),
                Optional.empty());
    }

    /** The folders in which jobs expect something to come. */
    public List<Listening> arrivals() {
        all();
        return arrivals;
    }

    /** Those that wait for an event, their conditions aside. */
    List<Listening> to(Event event) {
        Optional<EventType> type = EventType.ofType(event.type());
        boolean row = CauseKind.SWEEP.word().equals(event.about().get("cause"));
        if (type.isEmpty() || row) {
            return List.of();
        }
        List<Listening> candidates = on(type.get());
        if (candidates.isEmpty()) {
            return List.of();
        }
        Optional<Job> job = type.get().about() == EventType.About.JOB
                ? jobs.named(String.valueOf(event.about().get("job"))).map(jobs::current)
                : Optional.empty();
        return candidates.stream()
                .filter(each -> isFor(each, event, job) && switches.hears(each.address(), event.at()))
                .toList();
    }

    private static boolean isFor(Listening each, Event event, Optional<Job> job) {
        Trigger trigger = each.trigger();
        JobScope scope = trigger.scope();
        return switch (trigger.on().about()) {
            case JOB ->
                job.filter(of -> (scope.namesExactly(of.name()) || scope.isFor(of, each.team()))
                                && !startsItself(each, of)
                                && ended(trigger, event))
                        .isPresent();
            case WATCH, CALL, QUERY -> each.address().equals(event.about().get(FOR));
            case TEAM ->
                scope.teams().isEmpty()
                        ? event.team().equals(each.team())
                        : scope.teams().contains(event.team()) || scope.teams().contains(JobScope.ANY);
            case INSTALLATION -> event.team().isEmpty();
        };
    }

    /** A pattern that a job's own name matches does not mean that its end starts it. */
    private static boolean startsItself(Listening each, Job of) {
        boolean ofRuns =
                switch (each.trigger().on()) {
                    case RUN_CREATED, RUN_STARTED, RUN_ENDED -> true;
                    default -> false;
                };
        return ofRuns && of.name().equals(each.jobName());
    }

    private static boolean ended(Trigger trigger, Event event) {
        boolean step =
                trigger.step().isEmpty() || trigger.step().equals(event.about().get("step"));
        return step
                && (trigger.ends().isEmpty()
                        || RunState.of(String.valueOf(event.about().get("state")))
                                .filter(trigger.ends()::contains)
                                .isPresent());
    }
}
