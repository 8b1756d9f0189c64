package org.gantrel.service.forecast;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.core.forecast.Simulation.Stretch;
import org.gantrel.core.forecast.Simulation.Waited;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.cache.Recent;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.support.TransactionTemplate;

/** Says which deadlines will be kept, by how much the others will be missed, and because of what. */
@Component
public class Deadlines {

    private static final Duration AHEAD = Duration.ofHours(24);

    /** What has not begun within this as things are will be late for any deadline within this. */
    private static final Duration PLAYED = AHEAD.plus(Ahead.BEYOND);

    private static final String AT_RISK = "at-risk";

    /**
     * A deadline that is to come, or is over.
     *
     * @param run the run that it is of; missing for one that is still to be started
     * @param zone in which its planned time is meant
     * @param ends when it will probably end; missing where nobody knows
     * @param state {@code kept}, {@code at-risk} or {@code late}
     * @param late by how much it is, or will be, missed
     * @param because of which part
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Deadline(
            Long run,
            String job,
            String team,
            String schedule,
            Instant plannedAt,
            Instant deadline,
            String zone,
            Instant ends,
            String state,
            Duration late,
            String because) {}

    private final Ahead ahead;
    private final Plays plays;
    private final Schedules schedules;
    private final Runs runs;
    private final Jobs jobs;
    private final TransactionTemplate reading;
    private final Clock clock;
    private final Recent<Duration, List<Deadline>> recent;

    Deadlines(
            Ahead ahead,
            Plays plays,
            Schedules schedules,
            Runs runs,
            Jobs jobs,
            Journal journal,
            PlatformTransactionManager transactions,
            Clock clock) {
        this.plays = plays;
        this.reading = Transactions.reading(transactions);
        this.recent = new Recent<>(journal::complete, clock, 1);
        this.ahead = ahead;
        this.schedules = schedules;
        this.runs = runs;
        this.jobs = jobs;
        this.clock = clock;
    }

    /**
     * Those of the next day that a caller may see, what needs somebody first. Not to be called within a transaction: it may
     * have to wait for what is played.
     */
    public List<Deadline> visible(Caller caller) {
        return known().stream()
                .filter(each -> caller.may(Deed.SEE_RUNS, each.team()))
                .toList();
    }

    /** Those of the next day that will probably be missed, of all teams. */
    List<Deadline> atRisk() {
        return known().stream().filter(each -> each.state().equals(AT_RISK)).toList();
    }

    private List<Deadline> known() {
        return recent.of(AHEAD, () -> all(clock.instant()));
    }

    /** What has a deadline. */
    private record Asked(List<Run> open, List<Schedules.Coming> coming) {}

    private List<Deadline> all(Instant now) {
        Asked asked = reading.execute(status -> new Asked(
                runs.withDeadline(),
                schedules.coming(now, now.plus(AHEAD), ahead::hasDeadline, Map.of(), Ahead.MOST_WITH_DEADLINE)));
        if (asked.open().isEmpty() && asked.coming().isEmpty()) {
            return List.of();
        }
        Ahead.Played played = plays.until(now, now.plus(AHEAD), Supposed.NOTHING);
        return reading.execute(status -> all(asked.open(), asked.coming(), played, now));
    }

    private List<Deadline> all(List<Run> open, List<Schedules.Coming> coming, Ahead.Played played, Instant now) {
        var all = new ArrayList<Deadline>();
        for (Run run : open) {
            all.add(of(run, Optional.ofNullable(played.runs().get(run.number())), now));
        }
        for (Schedules.Coming each : coming) {
            JobEntry entry = jobs.withId(each.jobId());
            Outcome outcome = played.starts().get(new Ahead.Start(each.job(), each.schedule(), each.at()));
            ahead.deadline(entry, each.schedule(), each.at(), ZoneId.of(each.zone()))
                    .ifPresent(deadline -> all.add(new Deadline(
                            null,
                            each.job(),
                            each.team(),
                            each.schedule(),
                            each.at(),
                            deadline,
                            each.zone(),
                            ends(outcome),
                            state(Optional.ofNullable(outcome), deadline, now),
                            late(ends(outcome), deadline, now),
                            because(Optional.ofNullable(outcome), deadline, Optional.empty(), now))));
        }
        all.sort(Comparator.comparing((Deadline each) -> each.state().equals("kept"))
                .thenComparing(Deadline::deadline));
        return all;
    }

    private Deadline of(Run run, Optional<Outcome> outcome, Instant now) {
        Instant deadline = run.deadline().orElseThrow();
        Instant ends = ends(outcome.orElse(null));
        return new Deadline(
                run.number(),
                run.jobName(),
                jobs.teamOf(run.jobId()),
                run.causeRef(),
                run.plannedAt(),
                deadline,
                run.planned().zone().getId(),
                ends,
                state(outcome, deadline, now),
                late(ends, deadline, now),
                because(outcome, deadline, Optional.of(run), now));
    }

    private static Instant ends(Outcome outcome) {
        return outcome == null ? null : outcome.ends().orElse(null);
    }

    private static String state(Optional<Outcome> outcome, Instant deadline, Instant now) {
        if (now.isAfter(deadline)) {
            return "late";
        }
        boolean after = outcome.flatMap(Outcome::ends)
                .filter(end -> end.isAfter(deadline))
                .isPresent();
        boolean never = outcome.flatMap(Outcome::stuck).isPresent() && deadline.isBefore(now.plus(PLAYED));
        return after || never ? AT_RISK : "kept";
    }

    private static Duration late(Instant ends, Instant deadline, Instant now) {
        Instant end = ends == null || now.isAfter(ends) ? now : ends;
        return end.isAfter(deadline) ? Duration.between(deadline, end) : null;
    }

    private static String because(Optional<Outcome> played, Instant deadline, Optional<Run> run, Instant now) {
        if (state(played, deadline, now).equals("kept")) {
            return null;
        }
        Optional<Run> waiting = run.filter(each -> each.state() == RunState.WAITING);
        if (waiting.isPresent() && !waiting.get().waitingFor().isEmpty()) {
            return "it waits for " + waiting.get().waitingFor();
        }
        if (played.isEmpty()) {
            return "it has not ended";
        }
        Outcome outcome = played.get();
        if (outcome.stuck().isPresent()) {
            return Forecasts.words(outcome.stuck().get());
        }
        Instant ends = ends(outcome);
        Duration over = Duration.between(deadline, ends == null ? now : ends);
        if (run.isEmpty() && outcome.waitedFor().isPresent() && outcome.waits().compareTo(over) >= 0) {
            return "it will wait " + Words.duration(outcome.waits()) + " for "
                    + outcome.waitedFor().get().text();
        }
        Optional<Waited> within = outcome.within()
                .filter(wait ->
                        wait.length().compareTo(over) >= 0 || wait.length().toMinutes() >= 1);
        if (within.isPresent()) {
            return within.get().job() + ", a step of it, will wait "
                    + Words.duration(within.get().length()) + " for "
                    + within.get().what().text();
        }
        Optional<Stretch> left = outcome.longest().filter(each -> outcome.run().isUnderWay());
        if (left.isPresent()) {
            return "of what is left of it " + left.get().job() + " usually takes the longest, "
                    + Words.duration(left.get().length());
        }
        Duration takes = outcome.ends()
                .flatMap(end -> outcome.begins().map(begin -> Duration.between(begin, end)))
                .orElse(outcome.run().takes());
        return "it usually takes " + Words.duration(takes)
                + (outcome.waits().compareTo(Duration.ofMinutes(1)) >= 0
                        ? ", and begins " + Words.duration(outcome.waits()) + " after its time"
                        : "");
    }
}
