package org.gantrel.service.trigger;

import java.time.Clock;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.event.EventType;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.trigger.Limit;
import org.gantrel.core.trigger.OpenHours;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.core.trigger.TriggerCourse;
import org.gantrel.core.trigger.TriggerCourse.Made;
import org.gantrel.core.trigger.TriggerCourse.Verdict;
import org.gantrel.service.aside.EventByEvent;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.EventRights;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.JournalReader;
import org.gantrel.service.retention.LetsGoOfOld;
import org.gantrel.service.run.ByHand;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Callers;
import org.gantrel.service.trigger.Firing.Outcome;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Starts jobs upon events. It reads the journal in a thread of its own; how far it has come is written down in the
 * transaction that writes down the starts, and what came of each event for each trigger is unique, so that each event starts
 * each job once, whatever happens in between. What ends for a row of a sweep starts nothing: the sweep's own end does.
 */
@Component
public class Triggers implements SmartLifecycle, LetsGoOfOld {

    private static final String READER = "triggers";

    private final Listeners listeners;
    private final FiringStore firings;
    private final KnownCallStore calls;
    private final Jobs jobs;
    private final Callers callers;
    private final Runs runs;
    private final Ledger ledger;
    private final RunValues values;
    private final ByHand byHand;
    private final Calendars calendars;
    private final Journal journal;
    private final Clock clock;
    private final EventByEvent each;

    private JournalReader reader;

    Triggers(
            Listeners listeners,
            FiringStore firings,
            KnownCallStore calls,
            Jobs jobs,
            Callers callers,
            Runs runs,
            Ledger ledger,
            RunValues values,
            ByHand byHand,
            Calendars calendars,
            Journal journal,
            SetAside aside,
            TransactionTemplate transaction,
            Clock clock) {
        this.listeners = listeners;
        this.firings = firings;
        this.calls = calls;
        this.jobs = jobs;
        this.callers = callers;
        this.runs = runs;
        this.ledger = ledger;
        this.values = values;
        this.byHand = byHand;
        this.calendars = calendars;
        this.journal = journal;
        this.clock = clock;
        this.each = new EventByEvent(READER, journal, aside, transaction, this::concerns, Triggers::thing, this::fire);
    }

    @Override
    public void start() {
        reader = new JournalReader(READER, journal, () -> journal.position(READER), each).start();
    }

    @Override
    public void stop() {
        reader.close();
        reader = null;
    }

    @Override
    public boolean isRunning() {
        return reader != null;
    }

    /** What limits count is kept for as long as the longest of them. */
    @Override
    @Transactional
    public void letGoBefore(Instant before) {
        Instant counted = clock.instant().minus(Limit.LONGEST);
        firings.thin(before.isBefore(counted) ? before : counted);
        calls.thin(before);
    }

    /** Before the engine: what happens in its first step is seen too. */
    @Override
    public int getPhase() {
        return Integer.MAX_VALUE - 1;
    }

    private boolean concerns(Event event) {
        listeners.hear(event);
        List<Listening> to = listeners.to(event);
        // what an event itself says is enough for most conditions, and those that do not hold cost no transaction
        boolean ofRun =
                EventType.ofType(event.type()).filter(EventType::tellsOfRun).isPresent();
        return ofRun ? !to.isEmpty() : to.stream().anyMatch(each -> mayHold(each, event));
    }

    private boolean mayHold(Listening each, Event event) {
        try {
            return each.trigger().when().isEmpty() || holds(each, event, Optional.empty());
        } catch (ExpressionException e) {
            return true;
        }
    }

    /** Apart from what others set aside of the same event. */
    private static Thing thing(Event event) {
        String what = event.run() == null ? "event " + event.position() : "run " + event.run();
        return new Thing(Kind.EVENT, -event.position(), "triggers after " + what, event.team());
    }

    private void fire(Event event) {
        Optional<Run> source = source(event);
        listeners.to(event).forEach(each -> fire(each, event, source));
    }

    private Optional<Run> source(Event event) {
        return Optional.ofNullable(event.about().get("child"))
                .map(child -> Long.parseLong(String.valueOf(child)))
                .or(() -> Optional.ofNullable(event.run()))
                .flatMap(runs::find);
    }

    /** What comes of an event for one trigger at once, for who waits for an answer; the reader then finds it done. */
    @Transactional(propagation = Propagation.MANDATORY)
    public Firing fireNow(Listening listening, Event event) {
        return fire(listening, event, source(event)).orElseThrow();
    }

    private Optional<Firing> fire(Listening by, Event event, Optional<Run> source) {
        Optional<Firing> made = Optional.empty();
        try {
            if (by.trigger().when().isEmpty() || holds(by, event, source)) {
                // most events of which nothing follows are known by their condition alone, which costs no question
                Optional<Firing> before = before(by, event);
                if (before.isPresent()) {
                    return before;
                }
                made = Optional.of(begin(by, event, source));
            } else if (by.trigger().on().about() == EventType.About.CALL) {
                made = Optional.of(firing(by, event, Outcome.DROPPED, "its condition does not hold"));
            }
        } catch (ExpressionException e) {
            made = Optional.of(firing(by, event, Outcome.REFUSED, e.getMessage()));
        } catch (InvalidException e) {
            made = Optional.of(firing(by, event, Outcome.REFUSED, Runs.sentence(e)));
        }
        Optional<Firing> known = made.isPresent() ? before(by, event) : Optional.empty();
        if (known.isPresent()) {
            return known;
        }
        made.ifPresent(firings::save);
        made.filter(firing -> firing.outcome() == Outcome.REFUSED)
                .ifPresent(firing -> source.ifPresent(run -> ledger.remark(
                        run.number(),
                        "the trigger " + by.trigger().name() + " of " + by.jobName() + " starts nothing: "
                                + firing.why(),
                        event.at())));
        return made;
    }

    private Optional<Firing> before(Listening by, Event event) {
        return firings.findByEventPositionAndJobIdAndTriggerName(
                event.position(), by.job(), by.trigger().name());
    }

    /**
     * What came of an event for a trigger.
     *
     * @param sentence the same in words
     */
    public record Came(long event, String outcome, Optional<Long> run, String sentence) {}

    /** What came of some events. */
    @Transactional(readOnly = true)
    public List<Came> cameOf(List<Long> events) {
        return firings.findByEventPositionInOrderById(events).stream()
                .map(this::came)
                .toList();
    }

    /** The events that went into some runs. */
    @Transactional(readOnly = true)
    public List<Came> cameTo(List<Long> runsStarted) {
        return firings.findByRunNumberInOrderById(runsStarted).stream()
                .map(this::came)
                .toList();
    }

    private Came came(Firing firing) {
        String job = jobs.withId(firing.jobId()).name();
        return new Came(
                firing.eventPosition(),
                firing.outcome().word(),
                firing.run(),
                firing.outcome().word() + " by the trigger " + firing.triggerName() + " of " + job);
    }

    private static Firing firing(Listening by, Event event, Outcome outcome, String why) {
        return new Firing(event.position(), event.at(), by, outcome, why);
    }

    private Firing begin(Listening by, Event event, Optional<Run> source) {
        Trigger trigger = by.trigger();
        if (source.filter(run -> inARow(run) >= Trigger.MOST_IN_A_ROW).isPresent()) {
            return firing(by, event, Outcome.REFUSED, Trigger.MOST_IN_A_ROW + " runs have started one another already");
        }
        if (!maySee(by, event)) {
            return firing(by, event, Outcome.DROPPED, "who saved the job may not see such events any more");
        }
        Verdict verdict = TriggerCourse.decide(trigger, event.at(), made(by, event), days(trigger));
        if (verdict instanceof TriggerCourse.Dropped dropped) {
            return firing(by, event, Outcome.DROPPED, dropped.why());
        }
        if (verdict instanceof TriggerCourse.Gathered gathered) {
            return firing(by, event, Outcome.GATHERED, "").into(gathered.run(), null);
        }
        var start = (TriggerCourse.Start) verdict;
        JobEntry entry = jobs.withId(by.job());
        Map<String, String> with = with(by, event, source);
        Run run = ledger.create(
                NewRun.byTrigger(
                        entry,
                        with,
                        trigger.name(),
                        cause(event, source),
                        byHand.planned(jobs.current(entry), start.at())),
                event.at());
        return firing(by, event, Outcome.STARTED, start.why()).into(run.number(), start.at());
    }

    /** Who listens to other teams, or to the installation, does so in the name of who saved the job last. */
    private boolean maySee(Listening by, Event event) {
        EventType.About about = by.trigger().on().about();
        boolean ofOthers = about == EventType.About.INSTALLATION
                || (about == EventType.About.JOB || about == EventType.About.TEAM)
                        && !event.team().equals(by.team());
        return !ofOthers
                || callers.whoSaved(jobs.savedBy(jobs.withId(by.job())))
                        .filter(saver -> about == EventType.About.INSTALLATION
                                ? saver.administrator()
                                : saver.may(EventRights.of(event.type()), event.team()))
                        .isPresent();
    }

    /** What a run says that it was started by: the number of a run, or the event itself. */
    private static String cause(Event event, Optional<Run> source) {
        return source.map(run -> String.valueOf(run.number())).orElse("event " + event.position());
    }

    /** What the starts of the trigger's limit are, those that are still to come among them. */
    private List<Made> made(Listening by, Event event) {
        return by.trigger()
                .limit()
                .map(limit -> firings
                        .startedSince(by.job(), by.trigger().name(), event.at().minus(limit.in()))
                        .stream()
                        // what began at a time that is to come was before the clock was put back
                        .filter(firing -> !isAhead(firing) || waits(firing))
                        .map(firing -> new Made(
                                firing.run().orElseThrow(), firing.planned().orElseThrow(), waits(firing)))
                        .toList())
                .orElse(List.of());
    }

    private boolean isAhead(Firing firing) {
        return firing.planned().filter(clock.instant()::isBefore).isPresent();
    }

    private boolean waits(Firing firing) {
        return isAhead(firing)
                && firing.run()
                        .flatMap(runs::find)
                        .filter(run -> run.state() == RunState.WAITING
                                && run.startedAt().isEmpty())
                        .isPresent();
    }

    private DayFilter days(Trigger trigger) {
        return trigger.hours()
                .map(OpenHours::calendar)
                .filter(name -> !name.isEmpty())
                .flatMap(calendars::days)
                .map(days -> new DayFilter(Optional.of(days), Optional.empty()))
                .orElse(DayFilter.ANY_DAY);
    }

    /** What would come of an event that somebody made up. Nothing is written. */
    TriggerApi.TriggerTrial trial(Listening by, Event event, List<String> unknown) {
        Trigger trigger = by.trigger();
        String job = by.jobName();
        try {
            if (!trigger.when().isEmpty() && !holds(by, event, Optional.empty())) {
                return new TriggerApi.TriggerTrial(
                        false, job, Map.of(), null, "its condition does not hold: " + trigger.when(), unknown);
            }
            Map<String, String> with = with(by, event, Optional.empty());
            Verdict verdict = TriggerCourse.decide(trigger, event.at(), made(by, event), days(trigger));
            if (verdict instanceof TriggerCourse.Dropped dropped) {
                return new TriggerApi.TriggerTrial(false, job, with, null, dropped.why(), unknown);
            }
            if (verdict instanceof TriggerCourse.Gathered gathered) {
                return new TriggerApi.TriggerTrial(
                        false, job, with, null, "it would be gathered into run " + gathered.run(), unknown);
            }
            var start = (TriggerCourse.Start) verdict;
            JobEntry entry = jobs.withId(by.job());
            values.resolve(
                    jobs.current(entry), with, CauseKind.TRIGGER, byHand.planned(jobs.current(entry), start.at()));
            return new TriggerApi.TriggerTrial(
                    true, job, with, start.at(), start.why().isEmpty() ? null : start.why(), unknown);
        } catch (ExpressionException e) {
            return new TriggerApi.TriggerTrial(false, job, Map.of(), null, e.getMessage(), unknown);
        } catch (InvalidException e) {
            return new TriggerApi.TriggerTrial(false, job, Map.of(), null, Runs.sentence(e), unknown);
        }
    }

    private boolean holds(Listening by, Event event, Optional<Run> source) {
        return known(by, event, source).holds(by.trigger().when());
    }

    /** The values for the start. */
    Map<String, String> with(Listening by, Event event, Optional<Run> source) {
        Bindings known = known(by, event, source);
        var with = new LinkedHashMap<String, String>();
        by.trigger().with().forEach((key, text) -> with.put(key, known.fill(text)));
        return with;
    }

    private Bindings known(Listening by, Event event, Optional<Run> source) {
        Job job = jobs.current(jobs.withId(by.job()));
        Instant at = event.at().plus(by.trigger().delay());
        return values.known(Map.of(), byHand.planned(job, at))
                .after(EventFacts.of(event, by.trigger().on(), source));
    }

    /** How many runs before it were started by one another's ends. */
    private int inARow(Run run) {
        int count = 0;
        Optional<Run> at = Optional.of(run);
        while (at.isPresent() && count < Trigger.MOST_IN_A_ROW) {
            Run now = at.get();
            boolean started = now.cause() == CauseKind.TRIGGER && now.causeRef().matches("\\d{1,18}");
            if (started) {
                count++;
            }
            at = started
                    ? runs.find(Long.parseLong(now.causeRef()))
                    : now.parent().flatMap(runs::find);
        }
        return count;
    }
}
