package org.gantrel.service.today;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Zones;
import org.gantrel.core.today.DaySentence;
import org.gantrel.core.today.OneCause;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.durable.Transactions;
import org.gantrel.service.expect.Silences;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.forecast.Deadlines;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunView;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.today.TodayView.Attention;
import org.gantrel.service.today.TodayView.Bar;
import org.gantrel.service.today.TodayView.Board;
import org.gantrel.service.today.TodayView.FaultNow;
import org.gantrel.service.today.TodayView.HeldNow;
import org.gantrel.service.today.TodayView.Row;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.PlatformTransactionManager;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Whether everything is all right. */
@RestController
@RequestMapping("/api/v1")
@Transactional(readOnly = true)
class TodayApi {

    private static final Duration WORTH_ATTENTION = Duration.ofDays(2);
    /** How far back a day reaches that begins with its night. */
    private static final Duration NIGHT = Duration.ofHours(12);

    private static final Duration LONGEST_BOARD = Duration.ofDays(8);
    private static final int MOST_BARS = 5_000;
    private static final int MOST_COMING = 5_000;
    private static final int MOST_IN_A_ROW = 500;
    private static final int MOST_HOLDS = 50;

    private final Runs runs;
    private final Jobs jobs;
    private final Schedules schedules;
    private final RunFacts facts;
    private final Teams teams;
    private final SetAside aside;
    private final Deadlines deadlines;
    private final Holds holds;
    private final Silences silences;
    private final FaultLedger faults;
    private final DayReckoning reckoning;
    private final TransactionTemplate reading;
    private final Clock clock;

    TodayApi(
            Runs runs,
            Jobs jobs,
            Schedules schedules,
            RunFacts facts,
            Teams teams,
            SetAside aside,
            Deadlines deadlines,
            Holds holds,
            Silences silences,
            FaultLedger faults,
            DayReckoning reckoning,
            PlatformTransactionManager transactions,
            Clock clock) {
        this.reading = Transactions.reading(transactions);
        this.faults = faults;
        this.reckoning = reckoning;
        this.deadlines = deadlines;
        this.holds = holds;
        this.silences = silences;
        this.runs = runs;
        this.jobs = jobs;
        this.schedules = schedules;
        this.facts = facts;
        this.teams = teams;
        this.aside = aside;
        this.clock = clock;
    }

    @GetMapping("/today")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    TodayView today(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(required = false) String zone,
            @RequestParam(defaultValue = "midnight") String since) {
        boolean night = since.equals("night");
        if (!night && !since.equals("midnight")) {
            throw new InvalidException("since", "'" + since + "': midnight, or night for twelve hours at least");
        }
        // what may have to wait for a forecast, or for others who ask, holds no connection to the database
        List<Deadlines.Deadline> missed = deadlines.visible(caller).stream()
                .filter(each -> !each.state().equals("kept"))
                .toList();
        ZoneId read = zone == null ? reading.execute(status -> schedules.commonestZone()) : Zones.named(zone);
        Instant now = clock.instant();
        Instant midnight = now.atZone(read).toLocalDate().atStartOfDay(read).toInstant();
        Instant until =
                now.atZone(read).toLocalDate().plusDays(1).atStartOfDay(read).toInstant();
        Instant evening = now.minus(NIGHT).truncatedTo(ChronoUnit.MINUTES);
        Instant from = night && evening.isBefore(midnight) ? evening : midnight;
        Map<Long, String> visible = reading.execute(status -> visible(caller));
        Map<RunState, Long> counts = reckoning.counts(visible.keySet(), from, until);
        List<Long> faulty = reckoning.faulty(now.minus(WORTH_ATTENTION));
        return reading.execute(status -> {
            List<Hold> held = holds.visible(caller);
            long coming = schedules.countComing(caller, until.minusMillis(1), DaySentence.MOST_COMING);
            String sentence = from.equals(midnight)
                    ? DaySentence.of(counts, coming)
                    : DaySentence.of(counts, coming, from.atZone(read).toLocalTime());
            return new TodayView(
                    read.getId(),
                    from,
                    until,
                    sentence,
                    words(counts),
                    coming,
                    attention(visible, faulty),
                    aside.seenBy(caller),
                    missed,
                    held(held, now),
                    Math.max(0, held.size() - MOST_HOLDS),
                    silences.now().stream()
                            .filter(each -> caller.may(Deed.SEE_RUNS, each.team()))
                            .toList());
        });
    }

    /** Those that hold first, then what is planned next. */
    private static List<HeldNow> held(List<Hold> held, Instant now) {
        return held.stream()
                .sorted(Comparator.comparing((Hold hold) -> !hold.isOn(now)).thenComparing(Hold::from))
                .limit(MOST_HOLDS)
                .map(hold -> new HeldNow(
                        hold.id(), hold.words(), hold.from(), hold.until().orElse(null), hold.isOn(now)))
                .toList();
    }

    @GetMapping("/board")
    Board board(@AuthenticationPrincipal Caller caller, @RequestParam Instant from, @RequestParam Instant until) {
        if (!from.isBefore(until) || Duration.between(from, until).compareTo(LONGEST_BOARD) > 0) {
            throw new InvalidException("until", "a span from 'from' to 'until' of at most 8 days is expected");
        }
        Instant now = clock.instant();
        Map<Long, String> visible = visible(caller);
        // of what goes on nobody knows whether it will reach into a span that is still to come
        List<Long> teams = List.copyOf(visible.keySet());
        List<Run> found = from.isAfter(now)
                ? runs.planned(teams, from, until, MOST_BARS + 1)
                : runs.touching(teams, from, until, MOST_BARS + 1);
        Map<String, List<Bar>> bars = new HashMap<>();
        found.stream().limit(MOST_BARS).forEach(run -> bars.computeIfAbsent(run.jobName(), name -> new ArrayList<>())
                .add(bar(run)));
        Map<String, List<Instant>> coming = new HashMap<>();
        Instant after = from.isAfter(now) ? from.minusNanos(1) : now;
        List<Schedules.Coming> ahead = until.isAfter(now)
                ? schedules.coming(caller, after, until.minusMillis(1), job -> true, MOST_COMING + 1)
                : List.of();
        ahead.stream().limit(MOST_COMING).forEach(start -> coming.computeIfAbsent(
                        start.job(), name -> new ArrayList<>())
                .add(start.at()));
        List<Row> rows = jobs.all(caller).stream()
                .filter(job -> bars.containsKey(job.name()) || coming.containsKey(job.name()))
                .map(job ->
                        row(job, bars.getOrDefault(job.name(), List.of()), coming.getOrDefault(job.name(), List.of())))
                .toList();
        Instant comingUntil =
                ahead.size() > MOST_COMING ? ahead.get(MOST_COMING).at() : null;
        return new Board(from, until, now, found.size() > MOST_BARS, comingUntil, rows);
    }

    private Row row(JobEntry job, List<Bar> bars, List<Instant> coming) {
        return new Row(job.team(), job.name(), job.kind(), facts.usual(job.id()).orElse(null), bars, coming);
    }

    private static Bar bar(Run run) {
        return new Bar(
                run.number(),
                run.state().word(),
                run.plannedAt(),
                run.startedAt().orElse(null),
                run.finishedAt().orElse(null),
                run.message().isEmpty() ? null : run.message(),
                run.actsAs().isEmpty() ? null : run.actsAs(),
                run.deadline().orElse(null),
                run.late() ? true : null);
    }

    /** Each job of which what ended last, in the last two days, ended badly; those that nobody sees to first. */
    private List<Attention> attention(Map<Long, String> visible, List<Long> faulty) {
        Map<Long, Run> bad = new LinkedHashMap<>();
        runs.ended(faulty).stream()
                .filter(run -> visible.containsKey(run.teamId()))
                .filter(run -> !jobs.withId(run.jobId()).isRetired())
                .sorted(Comparator.comparing(Run::number))
                .forEach(run -> bad.put(run.number(), run));
        return OneCause.group(bad.values().stream().map(this::cause).toList()).stream()
                .map(group -> group.stream().map(each -> bad.get(each.run())).toList())
                .map(group -> attention(group, visible))
                .sorted(Comparator.comparing(TodayApi::isSeenTo)
                        .thenComparing(each -> each.run().number(), Comparator.reverseOrder()))
                .toList();
    }

    private OneCause.Bad cause(Run run) {
        Set<String> steps = run.kind().equals("chain")
                ? runs.children(run.number()).stream()
                        .filter(step -> Happening.isFault(step.state()))
                        .map(Run::jobName)
                        .collect(Collectors.toSet())
                : Set.of();
        return new OneCause.Bad(run.number(), run.jobName(), run.state(), run.message(), steps);
    }

    private Attention attention(List<Run> group, Map<Long, String> teamNames) {
        Run run = group.get(0);
        List<Run> latestFirst = runs.latest(run.jobId(), true, MOST_IN_A_ROW).stream()
                .sorted(Comparator.comparing((Run each) -> each.finishedAt().orElse(each.plannedAt()))
                        .reversed())
                .toList();
        int inARow = 0;
        while (inARow < latestFirst.size()
                && Happening.isFault(latestFirst.get(inARow).state())) {
            inARow++;
        }
        return new Attention(
                RunView.of(run, teamNames.get(run.teamId())),
                Math.max(1, inARow),
                inARow == 0 ? run.plannedAt() : latestFirst.get(inARow - 1).plannedAt(),
                fault(run),
                group.stream()
                        .skip(1)
                        .map(each -> RunView.of(each, teamNames.get(each.teamId())))
                        .toList());
    }

    private FaultNow fault(Run run) {
        return faults.current(run.jobId())
                .map(fault -> new FaultNow(
                        fault.id(), fault.openedAt(), fault.seenBy().isEmpty() ? null : fault.seenBy()))
                .orElse(null);
    }

    private static boolean isSeenTo(Attention each) {
        return each.run().takenBy() != null
                || each.fault() != null && each.fault().seenBy() != null;
    }

    private Map<Long, String> visible(Caller caller) {
        return teams.visibleTo(caller).stream().collect(Collectors.toMap(Team::id, Team::name));
    }

    private static Map<String, Long> words(Map<RunState, Long> counts) {
        var words = new LinkedHashMap<String, Long>();
        counts.forEach((state, count) -> words.put(state.word(), count));
        return words;
    }
}
