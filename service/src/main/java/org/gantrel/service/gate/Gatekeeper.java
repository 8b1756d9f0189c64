package org.gantrel.service.gate;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Queue;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutorService;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.gate.Gates.Look;
import org.gantrel.core.gate.Gates.Verdict;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.Wait;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.text.Words;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.time.Threads;
import org.gantrel.service.time.Waker;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/**
 * Keeps the gates of runs that wait: has them looked at by threads of its own when that is due, and remembers what was
 * seen. A run whose gates all held once has passed them; after a restart it is looked at again.
 */
@Component
public class Gatekeeper implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(Gatekeeper.class);
    private static final int LOOKS_AT_ONCE = 32;

    /** What the last look sees counts, where it does not take longer. */
    private static final Duration LAST_LOOK = Duration.ofSeconds(5);

    /** Looks may hang, where an address or a database does; those of one team leave room for the others. */
    private static final int LOOKS_OF_A_TEAM = 8;

    private static final int LONGEST_SAW = 200;

    /**
     * What a run has to do.
     *
     * @param waits for what it waits; nothing where it may go through
     * @param ending how it ends without having begun, where the patience is over
     * @param next when it is looked at again
     */
    public record Answer(Optional<Wait> waits, Optional<Ending> ending, Optional<Instant> next) {
        public static final Answer OPEN = new Answer(Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** What is seen while the engine decides is of a moment later. */
    private static final Duration SLACK = Duration.ofSeconds(10);

    private static final class Watch {
        private final Instant since;
        private boolean looking;
        private boolean passed;
        private Instant nextLook = Instant.EPOCH;
        private Optional<Instant> dueSince = Optional.empty();
        private List<Look> saw = List.of();
        private Optional<Gates> worded = Optional.empty();
        private Verdict verdict = new Verdict.Wait(Instant.EPOCH, "its gates, which are being looked at");

        private Watch(Instant since) {
            this.since = since;
        }
    }

    private record Seen(long run, long team, Gates worded, List<Look> looks, Verdict verdict) {}

    private final GateSight sight;
    private final GateLooks kept;
    private final Runs runs;
    private final Jobs jobs;
    private final RunValues values;
    private final Calendars calendars;
    private final OutsideSight outside;
    private final Waker waker;
    private final Clock clock;
    private final Map<Long, Watch> watched = new HashMap<>();
    private final Map<Long, Integer> lookingForTeam = new HashMap<>();
    private final Set<Long> hasty = ConcurrentHashMap.newKeySet();
    private final Queue<Seen> seen = new ConcurrentLinkedQueue<>();
    private final ExecutorService threads = Threads.pool("gates", LOOKS_AT_ONCE);

    Gatekeeper(
            GateSight sight,
            GateLooks kept,
            Runs runs,
            Jobs jobs,
            RunValues values,
            Calendars calendars,
            OutsideSight outside,
            Waker waker,
            Clock clock) {
        this.sight = sight;
        this.kept = kept;
        this.runs = runs;
        this.jobs = jobs;
        this.values = values;
        this.calendars = calendars;
        this.outside = outside;
        this.waker = waker;
        this.clock = clock;
    }

    /** Whether something was seen since the last time that anybody asked. */
    public boolean hasNews() {
        // nobody waits for those that are not watched: their first look, if one comes, sees what there is
        hasty.removeIf(run -> !watched.containsKey(run));
        return !seen.isEmpty() || !hasty.isEmpty();
    }

    /** Asks for a run that could begin otherwise. Never waits: what is to be looked at is looked at meanwhile. */
    public Answer ask(Run run, Gates gates, Instant now) {
        for (Seen each = seen.poll(); each != null; each = seen.poll()) {
            take(each);
        }
        // a further try of a run that has passed them is the same run
        boolean begunBefore = run.again().isPresent() || run.startedAt().isPresent();
        if (!run.gatesSkipped().isEmpty() || begunBefore) {
            return Answer.OPEN;
        }
        if (run.isAhead(now)) {
            return new Answer(
                    Optional.of(new Wait(Wait.Kind.GATE, "", "its planned time")),
                    Optional.empty(),
                    Optional.of(run.plannedAt()));
        }
        Watch watch = watched.computeIfAbsent(run.number(), number -> new Watch(since(run)));
        // a look that is under way may have been too early
        if (!watch.looking && hasty.remove(run.number())) {
            watch.nextLook = Instant.EPOCH;
        }
        if (watch.passed) {
            return Answer.OPEN;
        }
        if (watch.verdict instanceof Verdict.GiveUp giveUp) {
            return new Answer(Optional.empty(), Optional.of(giveUp.ending()), Optional.empty());
        }
        // much further ahead than it can be: the clock was put back
        boolean due = !watch.looking
                && (!now.isBefore(watch.nextLook)
                        || watch.nextLook.isAfter(now.plus(gates.lookEvery()).plus(SLACK)));
        if (due && watch.dueSince.isEmpty()) {
            watch.dueSince = Optional.of(now);
        }
        Instant end = watch.since.plus(gates.patience());
        Instant latest = watch.dueSince
                .map(from -> from.plus(LAST_LOOK))
                .filter(later -> later.isAfter(end))
                .orElse(end);
        if ((watch.looking || due) && !now.isBefore(latest)) {
            // a look that hangs, or whose turn does not come, does not outlast the patience but for that
            watch.verdict = watch.worded.orElse(gates).decide(watch.saw, watch.since, now);
            return ask(run, gates, now);
        }
        if (due && lookingForTeam.getOrDefault(run.teamId(), 0) < LOOKS_OF_A_TEAM) {
            watch.looking = true;
            lookingForTeam.merge(run.teamId(), 1, Integer::sum);
            threads.execute(() -> look(run, gates, watch.since));
        }
        String on = ((Verdict.Wait) watch.verdict).on();
        return new Answer(
                Optional.of(new Wait(Wait.Kind.GATE, on.split(": ", 2)[0], on)),
                Optional.empty(),
                // one whose turn to be looked at has not come is asked again when a look of its team is over
                Optional.of(watch.looking || due ? latest : watch.nextLook));
    }

    /** The rows of a sweep share one patience, from its begin on: a thousand of them do not wait a thousand times. */
    private Instant since(Run run) {
        Instant written = run.isRow()
                ? run.parent().flatMap(runs::find).flatMap(Run::startedAt).orElse(run.queuedAt())
                : run.queuedAt();
        return written.isAfter(run.plannedAt()) ? written : run.plannedAt();
    }

    private void take(Seen each) {
        lookingForTeam.computeIfPresent(each.team(), (team, count) -> count > 1 ? count - 1 : null);
        Watch watch = watched.get(each.run());
        if (watch == null || watch.verdict instanceof Verdict.GiveUp) {
            return;
        }
        watch.looking = false;
        watch.dueSince = Optional.empty();
        watch.saw = each.looks();
        watch.worded = Optional.of(each.worded());
        watch.passed = each.verdict() instanceof Verdict.Open;
        watch.verdict = each.verdict();
        if (each.verdict() instanceof Verdict.Wait wait) {
            watch.nextLook = wait.next();
        }
    }

    /** Has the gates of a run be looked at at once: somebody knows that there is something to be seen. */
    public void lookSoon(long run) {
        hasty.add(run);
        waker.wake();
    }

    /** Lets go of a run that waits no more. */
    public void forget(long run) {
        watched.remove(run);
        hasty.remove(run);
    }

    private void look(Run run, Gates gates, Instant since) {
        Gates worded = gates;
        List<Look> looks;
        try {
            worded = gates.worded(values.shown(runs.jobOf(run), run));
            looks = looks(run, gates);
            kept.keep(run.number(), worded, looks, clock.instant());
        } catch (Throwable e) {
            LOG.warn("the gates of run {} cannot be looked at", run.number(), e);
            String why = "it cannot be looked at: " + (e.getMessage() == null ? e : e.getMessage());
            looks = List.of(new Look(false, brief(why)));
        }
        Verdict verdict = worded.decide(looks, since, clock.instant());
        seen.add(new Seen(run.number(), run.teamId(), worded, looks, verdict));
        waker.wake();
    }

    /** Looks at one gate after the other, as far as the first that is shut. */
    private List<Look> looks(Run run, Gates gates) throws java.io.IOException {
        Bindings known = values.known(runs.jobOf(run), run);
        return sight.during(run, eyes -> {
            var looks = new ArrayList<Look>();
            for (Gate gate : gates.all()) {
                Look look = look(run, gate, known, eyes);
                looks.add(new Look(look.open(), brief(look.saw())));
                if (!look.open()) {
                    break;
                }
            }
            return looks;
        });
    }

    private Look look(Run run, Gate gate, Bindings known, GateSight.Eyes eyes) {
        try {
            if (gate instanceof Gate.ToldStart) {
                return new Look(outside.hasBegun(run.number()), "nobody has yet");
            }
            if (gate instanceof Gate.Between between) {
                LocalDateTime local = local(run.planned().zone());
                return new Look(
                        between.holds(local.toLocalTime()),
                        "it is " + local.toLocalTime().withNano(0));
            }
            if (gate instanceof Gate.InCalendar in) {
                return inCalendar(run, in);
            }
            if (gate instanceof Gate.JobEnded ended) {
                return jobEnded(run, ended);
            }
            if (gate instanceof Gate.Holds holds) {
                String value = known.fill("${" + holds.expression() + "}");
                return new Look(value.equals("true"), "it is " + value);
            }
            return eyes.look(gate.fill(known));
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return new Look(false, "the look was broken off");
        } catch (RuntimeException e) {
            return new Look(false, e.getMessage() == null ? e.toString() : e.getMessage());
        }
    }

    private LocalDateTime local(ZoneId zone) {
        return LocalDateTime.ofInstant(clock.instant(), zone);
    }

    private Look inCalendar(Run run, Gate.InCalendar gate) {
        return calendars
                .days(gate.calendar())
                .map(days -> new DayFilter(Optional.of(days), Optional.empty())
                        .refusal(local(run.planned().zone()))
                        .map(why -> new Look(false, why))
                        .orElse(new Look(true, "it is one")))
                .orElse(new Look(false, "there is no such calendar any more"));
    }

    private Look jobEnded(Run run, Gate.JobEnded gate) {
        Instant since = gate.since()
                .map(run.plannedAt()::minus)
                .orElseGet(() ->
                        run.planned().date().atStartOfDay(run.planned().zone()).toInstant());
        return jobs.named(gate.job())
                .flatMap(job -> runs.latestEnd(job.id(), since, gate.good()))
                .map(end -> new Look(
                        true,
                        "run " + end.number() + " " + end.state().word().replace('-', ' ') + " "
                                + Words.duration(
                                        Duration.between(end.finishedAt().orElseThrow(), clock.instant()))
                                + " ago"))
                .orElseGet(() -> new Look(
                        false,
                        "no " + (gate.good() ? "good " : "") + "end since "
                                + Words.moment(since, run.planned().zone())));
    }

    private static String brief(String text) {
        String line = text.replace('\n', ' ');
        return line.length() <= LONGEST_SAW ? line : line.substring(0, LONGEST_SAW) + "...";
    }

    @Override
    public void destroy() {
        threads.shutdownNow();
    }
}
