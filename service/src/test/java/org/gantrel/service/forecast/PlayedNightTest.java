package org.gantrel.service.forecast;

import static java.time.temporal.ChronoUnit.MINUTES;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.concurrent.Executors;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.event.EventType;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.engine.EnginePulse;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.sweep.Sweeps;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * Plays nights of the ferry company in seconds. Its work is a request to a harbour that answers when the moved clock says so;
 * all else is the service as it is.
 */
@DisplayName("A night that was played")
class PlayedNightTest {

    private static final Instant EVENING = Instant.parse("2026-11-23T19:00:00Z");
    private static final Duration NIGHT = Duration.ofHours(12);
    private static final Duration DAY = Duration.ofDays(1);
    private static final int CALM_STEPS = 4;
    private static final Instant HELD_UNTIL = Instant.parse("2026-11-25T03:37:00Z");
    private static final Instant REPORT_HELD_UNTIL = Instant.parse("2026-11-25T02:11:00Z");
    private static final Instant WINDOW_END = Instant.parse("2026-11-24T21:45:00Z");

    /** How long each job's work takes, in minutes. */
    private static final Map<String, Integer> MINUTES_OF = new TreeMap<>(Map.ofEntries(
            Map.entry("fetch-tide-tables", 4),
            Map.entry("build-sailings", 52),
            Map.entry("publish-duty-list", 6),
            Map.entry("order-dry-dock-parts", 11),
            Map.entry("settle-tickets", 14),
            Map.entry("report-sales", 5),
            Map.entry("refund-tickets", 8),
            Map.entry("tidy-up", 2),
            Map.entry("settle-season-passes", 63),
            Map.entry("match-payments", 31),
            Map.entry("vault-copy", 58),
            Map.entry("check-kiosk", 3),
            Map.entry("wash-decks", 9),
            Map.entry("reconcile-fuel", 95),
            Map.entry("count-engine-hours", 20),
            Map.entry("archive-manifests", 47)));

    private static final String COMPANY =
            """
            lane: card-processor
            team: revenue
            width: 2
            for-teams: [ finance ]
            ---
            lane: planning
            team: timetable
            width: 1
            for-teams: [ fleet ]
            ---
            roster: routes
            team: revenue
            columns: [ route ]
            rows: [ { route: skarholm }, { route: outer-isles }, { route: sound } ]
            at-once: 2
            ---
            chain: night-close
            team: revenue
            steps:
              - { step: settle, job: settle-tickets, over: routes }
              - { step: rest, pause: 7 min, after: settle }
              - { step: report, job: report-sales, after: rest }
            finally:
              - { step: tidy, job: tidy-up }
            schedules: [ { name: nightly, when: every day at 01:00, zone: Europe/Oslo, deadline: "01:45" } ]
            ---
            chain: prepare-tomorrow
            team: timetable
            steps:
              - { step: tides, job: fetch-tide-tables }
              - { step: sailings, job: build-sailings }
              - { step: duty, job: publish-duty-list }
            schedules: [ { name: evening, when: every day at 21:30, zone: Europe/Oslo } ]
            ---
            chain: round-the-fleet
            team: fleet
            lanes: [ planning ]
            steps:
              - { step: hours, job: count-engine-hours }
              - { step: parts, job: order-dry-dock-parts }
              - { step: fuel, job: reconcile-fuel, after: parts, go-on: yes }
              - { step: either, job: tidy-up, after: [ hours, parts ], join: any }
              - { step: rest, pause: { until: "03:40" }, after: fuel }
              - { step: tomorrow, job: prepare-tomorrow, after: [ rest, either ] }
            finally:
              - { step: tidy, job: tidy-up }
            schedules: [ { name: nightly, when: every day at 02:20, zone: Europe/Oslo } ]
            """;

    @TempDir
    private Path folder;

    private final MovableClock clock = new MovableClock(EVENING.minus(Duration.ofHours(1)));
    private final Harbour harbour = new Harbour();
    private LiveService service;
    private long steps;

    private PlayedNightTest() throws IOException {}

    /** Answers requests when their work is over by the moved clock. */
    private final class Harbour {
        private final HttpServer server =
                HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 50);
        private final Map<HttpExchange, Instant> open = new HashMap<>();

        Harbour() throws IOException {
            server.setExecutor(Executors.newCachedThreadPool());
            server.createContext("/", this::take);
            server.start();
        }

        private void take(HttpExchange exchange) {
            String job = exchange.getRequestURI().getPath().substring(1);
            synchronized (PlayedNightTest.this) {
                open.put(exchange, clock.instant().plus(Duration.ofMinutes(MINUTES_OF.get(job))));
                PlayedNightTest.this.notifyAll();
            }
        }

        Optional<Instant> next() {
            return open.values().stream().min(Comparator.naturalOrder());
        }

        /** Answers what is over by now. */
        void answer() throws IOException {
            for (HttpExchange exchange : List.copyOf(open.keySet())) {
                if (!open.get(exchange).isAfter(clock.instant())) {
                    open.remove(exchange);
                    exchange.sendResponseHeaders(204, -1);
                    exchange.close();
                }
            }
        }
    }

    private String task(String name, String more) {
        return "---\ntask: " + name + "\ndoes: { request: \"http://127.0.0.1:"
                + harbour.server.getAddress().getPort() + "/" + name + "\" }\n" + more + "\n";
    }

    private static String at(String when) {
        return "schedules: [ { name: usual, when: \"" + when + "\", zone: Europe/Oslo } ]";
    }

    private void define() {
        for (String team : List.of("timetable", "fleet", "finance", "harbour")) {
            service.bean(Teams.class).create(LiveService.SERVICE, team, "");
        }
        service.define(COMPANY
                + task("fetch-tide-tables", "team: timetable")
                + task(
                        "build-sailings",
                        "team: timetable\nlanes: [ planning ]\npriority: 7\n" + at("every day at 22:00"))
                + task("publish-duty-list", "team: timetable\nlanes: [ planning ]")
                + task(
                        "order-dry-dock-parts",
                        "team: fleet\nlanes: [ planning ]\n" + at("every day at 21:40 and 22:10 and 23:05"))
                + task(
                        "settle-tickets",
                        "team: revenue\nparameters: { route: { type: text } }\nlanes: [ card-processor ]\napart-by: [ route ]")
                + task("report-sales", "team: revenue")
                // rows of sweeps stand in line as these do, each from when it could begin
                + task(
                        "refund-tickets",
                        "team: revenue\nlanes: [ card-processor ]\npriority: 2\n" + at("every day at 01:02 and 01:12"))
                + task("tidy-up", "team: revenue")
                + task(
                        "settle-season-passes",
                        "team: revenue\nlanes: { card-processor: 2 }\npriority: 7\n" + at("every day at 01:05"))
                + task(
                        "match-payments",
                        "team: finance\nlanes: [ card-processor ]\n" + at("every day at 00:50 and 01:10"))
                + task("vault-copy", "team: finance\n" + at("every day at 01:10 and 04:10"))
                + task(
                        "wash-decks",
                        "team: fleet\nlanes: [ planning ]\nstop-at: \"22:45\"\n" + at("every day at 22:20"))
                + task("check-kiosk", "team: harbour\npriority: 3\nwhile-running: skip\n" + at("every 20 minutes"))
                + task("reconcile-fuel", "team: fleet\nwhile-running: skip\n" + at("every day at 05:00 and 05:40"))
                + task("count-engine-hours", "team: fleet\n" + at("every day at 01:15 and 05:10"))
                + task("archive-manifests", "team: harbour\n" + at("every day at 01:20 and 01:25 and 05:20")));
    }

    /**
     * Wakes the engine until nothing more comes of it, all rows of sweeps are drawn, which is done beside the engine, and all
     * work that is under way is at the harbour.
     */
    private synchronized void calm() throws InterruptedException {
        Runs runs = service.bean(Runs.class);
        Sweeps sweeps = service.bean(Sweeps.class);
        long patience = System.nanoTime() + Await.PATIENCE.toNanos();
        String before = "";
        long seen = steps;
        for (long since = seen; seen < since + CALM_STEPS; ) {
            service.bean(Waker.class).wake();
            wait(20);
            // only those that were done before all is looked at
            seen = steps;
            List<Run> underway = runs.underwayAll();
            long working = underway.stream()
                    .filter(run -> MINUTES_OF.containsKey(run.jobName()) && !run.isSweep())
                    .count();
            String now = Stream.concat(underway.stream(), runs.waiting().stream())
                    .map(run -> run.number() + run.state().word())
                    .collect(Collectors.joining(" "));
            boolean drawn = underway.stream().filter(Run::isSweep).allMatch(run -> sweeps.of(run.number())
                    .isDrawn());
            if (!drawn || working != harbour.open.size() || !now.equals(before)) {
                since = steps;
                before = now;
            }
            assertThat(System.nanoTime())
                    .as("calm at %s with %s", clock.instant(), now)
                    .isLessThan(patience);
        }
    }

    /** What was said of a run at some moment of the night. */
    private record Said(Instant at, String run, String span) {}

    /** What the forecast says now of all that is under way, waits or comes. */
    private void listen(List<Said> said) {
        Instant now = clock.instant();
        Ahead.Played played = service.bean(Ahead.class).play(now, now.plus(NIGHT), Supposed.NOTHING);
        played.runs().forEach((number, outcome) -> {
            Run run = service.bean(Runs.class).find(number).orElseThrow();
            said.add(new Said(now, name(run), said(outcome)));
        });
        played.starts()
                .forEach((start, outcome) -> said.add(new Said(now, start.job() + " " + start.at(), said(outcome))));
    }

    private static String name(Run run) {
        return run.jobName() + " " + run.plannedAt();
    }

    private static String said(Outcome outcome) {
        return outcome.skipped()
                ? "skipped"
                : outcome.stuck()
                        .map(Forecasts::words)
                        .orElseGet(() -> span(
                                outcome.begins().orElseThrow(), outcome.ends().orElseThrow()));
    }

    private void play(Instant until) throws IOException, InterruptedException {
        play(until, () -> {});
    }

    /** Plays until an instant: from each moment at which something begins or ends to the next. */
    private void play(Instant until, Runnable each) throws IOException, InterruptedException {
        List<Instant> moments = new ArrayList<>(List.of(until, HELD_UNTIL, REPORT_HELD_UNTIL, WINDOW_END));
        Forecasts forecasts = service.bean(Forecasts.class);
        forecast(forecasts, clock.instant(), until).starts().forEach(start -> moments.add(start.at()));
        moments.sort(Comparator.naturalOrder());
        // pauses end on a full minute here, as everything does
        while (clock.instant().isBefore(until)) {
            Instant now = clock.instant();
            Instant next =
                    moments.stream().filter(at -> at.isAfter(now)).findFirst().orElseThrow();
            Optional<Instant> end = harbour.next().filter(next::isAfter);
            boolean pauses = service.bean(Runs.class).underwayAll().stream()
                    .anyMatch(run -> run.jobName().equals("night-close"));
            Instant soon = end.orElse(next);
            Instant minute = now.plus(Duration.ofMinutes(1));
            clock.moveTo(pauses && minute.isBefore(soon) ? minute : soon);
            if (moments.contains(clock.instant())
                    && harbour.next().filter(clock.instant()::equals).isPresent()) {
                // what is due is begun a little ahead of its time, and so before what ends at that time makes room
                calm();
            }
            synchronized (this) {
                harbour.answer();
            }
            calm();
            each.run();
        }
    }

    private static Forecast forecast(Forecasts forecasts, Instant from, Instant until) {
        return forecasts.between(LiveService.SERVICE, from, until, Optional.empty(), Optional.empty(), List.of());
    }

    @AfterEach
    void close() {
        service.close();
        harbour.server.stop(0);
    }

    private void begin() {
        service = LiveService.fresh(folder, clock);
        EnginePulse pulse = service.bean(EnginePulse.class);
        pulse.onStep(took -> {
            synchronized (this) {
                // those that only hear of ends decide nothing
                steps += pulse.onlyHears() ? 0 : 1;
                notifyAll();
            }
        });
        define();
        clock.moveTo(EVENING);
    }

    private Hold hold(Hold.Scope scope, String name, Instant from, Optional<Instant> until, boolean skips) {
        Hold hold = Hold.wanted(scope, name, from, until, "the vault is moved", "gantrel");
        return service.bean(Holds.class).lay(LiveService.SERVICE, skips ? hold.skipping() : hold);
    }

    /** A team for a while, a step of a chain, and a job whose starts are skipped meanwhile. */
    private void hold() {
        hold(Hold.Scope.TEAM, "finance", HELD_UNTIL.minus(Duration.ofMinutes(50)), Optional.of(HELD_UNTIL), false);
        Optional<Instant> until = Optional.of(REPORT_HELD_UNTIL);
        hold(Hold.Scope.JOB, "report-sales", clock.instant().plus(Duration.ofHours(4)), until, false);
        Instant afterTheFirst = Instant.parse("2026-11-25T00:22:00Z");
        hold(Hold.Scope.JOB, "archive-manifests", afterTheFirst, Optional.of(HELD_UNTIL), true);
    }

    /** The runs of schedules' starts, by job and planned time. */
    private Map<String, Run> ran(Instant from) {
        List<Long> teams =
                service.bean(Teams.class).all().stream().map(team -> team.id()).toList();
        return service.bean(Runs.class).planned(teams, from, from.plus(NIGHT).plusSeconds(1), 1_000).stream()
                .filter(run -> run.parent().isEmpty())
                .collect(Collectors.toMap(PlayedNightTest::name, run -> run));
    }

    private static String said(Forecast.ComingStart start) {
        return Boolean.TRUE.equals(start.skipped()) ? "skipped" : span(start.begins(), start.ends());
    }

    private static String was(Run run) {
        return run.state() == RunState.SKIPPED
                ? "skipped"
                : span(run.startedAt().orElseThrow(), run.finishedAt().orElseThrow());
    }

    private static String span(Instant from, Instant until) {
        return from.truncatedTo(MINUTES) + " to " + Optional.ofNullable(until).map(at -> at.truncatedTo(MINUTES));
    }

    @Test
    @DisplayName("went as the forecast had said in the evening: begins, ends and what is skipped, to the minute")
    void wentAsForeseen() throws Exception {
        begin();
        // the first night teaches how long everything takes
        Instant evening = EVENING.plus(DAY);
        play(evening);
        hold();
        Forecast foreseen = forecast(service.bean(Forecasts.class), evening.plusSeconds(1), evening.plus(NIGHT));
        var said = new ArrayList<Said>();
        play(evening.plus(NIGHT).plus(Duration.ofHours(2)), () -> listen(said));
        Map<String, Run> ran = ran(evening);
        assertThat(foreseen.starts()).hasSizeGreaterThan(50);
        for (Forecast.ComingStart start : foreseen.starts()) {
            String name = start.job() + " " + start.at();
            assertThat(ran).containsKey(name);
            assertThat(name + ": " + was(ran.get(name))).isEqualTo(name + ": " + said(start));
        }
        assertThat(ran.values()).extracting(Run::state).containsOnly(RunState.SUCCEEDED, RunState.SKIPPED);
        assertThat(ran.values())
                .filteredOn(run -> run.jobName().equals("vault-copy"))
                .extracting(run -> run.startedAt().orElseThrow())
                .contains(HELD_UNTIL);
        assertThat(ran.values())
                .filteredOn(run -> run.state() == RunState.SKIPPED)
                .extracting(run -> run.message().replaceAll(" at .*|:.*", ""))
                .contains("on hold", "its window ended");
        assertThat(foreseen.starts())
                .filteredOn(start -> start.job().equals("night-close"))
                .allMatch(start -> start.ends().isAfter(REPORT_HELD_UNTIL));
        assertThat(foreseen.starts())
                .anyMatch(start -> start.waits() != null && start.waits().toMinutes() > 10);
        assertThat(foreseen.starts()).anyMatch(start -> Boolean.TRUE.equals(start.skipped()));
        assertThat(foreseen.starts()).anyMatch(start -> start.late() != null);
        assertThat(foreseen.lanes()).anyMatch(lane -> !lane.crowded().isEmpty());
        // so it was at any moment of the night, with chains and sweeps under way, and with what waited
        assertThat(said.stream().filter(each -> ran.containsKey(each.run()))).hasSizeGreaterThan(2_000);
        for (Said each : said) {
            if (ran.containsKey(each.run())) {
                String name = each.run() + " at " + each.at();
                assertThat(name + ": " + each.span()).isEqualTo(name + ": " + was(ran.get(each.run())));
            }
        }
    }

    @Test
    @DisplayName(
            "will not come as long as a lane is closed or a step is held without an end: the deadline is at risk, and why is said")
    void saysWhatHasNoEnd() {
        begin();
        assertThat(deadline().state()).isEqualTo("kept");
        assertThat(start("match-payments").stuck()).isNull();
        service.bean(Lanes.class).shut(LiveService.SERVICE, "card-processor", "the bank is away");
        assertThat(deadline().state()).isEqualTo("at-risk");
        assertThat(deadline().late()).isNull();
        // told once it has stood for a while, and once
        RiskWatch risks = service.bean(RiskWatch.class);
        for (int minute = 0; minute < 5; minute++) {
            if (minute == 3) {
                // what is written can be read when nothing can appear before it any more
                Await.until("it is told", () -> !toldOfRisk().isEmpty());
            }
            assertThat(toldOfRisk()).hasSize(minute < 3 ? 0 : 1);
            clock.moveTo(clock.instant().plus(Duration.ofMinutes(1)));
            risks.round();
        }
        assertThat(toldOfRisk())
                .singleElement()
                .asString()
                .startsWith(
                        "night-close will probably miss its deadline, Tue 24 Nov 01:45 (Europe/Oslo): settle-tickets");
        assertThat(deadline().because())
                .isEqualTo("settle-tickets, a step of it, will wait for lane card-processor to open: closed by"
                        + " gantrel: the bank is away, and nothing says until when");
        Forecast.ComingStart payments = start("match-payments");
        assertThat(payments.stuck()).startsWith("it will wait for lane card-processor to open");
        assertThat(payments.begins()).isNull();
        assertThat(payments.ends()).isNull();
        service.bean(Lanes.class).open(LiveService.SERVICE, "card-processor");
        service.bean(Lanes.class).widen(LiveService.SERVICE, "card-processor", 1);
        assertThat(start("settle-season-passes").stuck()).contains("to be widened: it takes 2 places");
        Hold held = hold(Hold.Scope.JOB, "report-sales", clock.instant(), Optional.empty(), false);
        assertThat(deadline().because()).startsWith("report-sales, a step of it, will wait for the end of a hold");
        service.bean(Holds.class).end(LiveService.SERVICE, held.id());
        assertThat(deadline().state()).isEqualTo("kept");
        // a hundred at once are enough for a team: each forecast looks at all of them
        Instant later = clock.instant().plus(DAY);
        for (int i = 0; i < 100; i++) {
            hold(Hold.Scope.JOB, "report-sales", later.plusSeconds(i), Optional.of(later.plusSeconds(600)), false);
        }
        assertThatThrownBy(() -> hold(Hold.Scope.TEAM, "revenue", later, Optional.empty(), false))
                .hasMessageContaining("100 holds");
        assertThat(deadline().state()).isEqualTo("kept");
        hold(Hold.Scope.TEAM, "fleet", later, Optional.empty(), false);
    }

    private List<Object> toldOfRisk() {
        return service.bean(Journal.class).after(0, 10_000).stream()
                .filter(event -> event.type().equals(EventType.JOB_AT_RISK.type()))
                .map(event -> event.about().get("message"))
                .toList();
    }

    /** That of the night's close, worked out anew. */
    private Deadlines.Deadline deadline() {
        clock.moveTo(clock.instant().plus(Duration.ofMinutes(1)));
        return service.bean(Deadlines.class).visible(LiveService.SERVICE).stream()
                .filter(each -> each.job().equals("night-close"))
                .findFirst()
                .orElseThrow();
    }

    private Forecast.ComingStart start(String job) {
        Instant now = clock.instant();
        return forecast(service.bean(Forecasts.class), now, now.plus(DAY)).starts().stream()
                .filter(each -> each.job().equals(job))
                .findFirst()
                .orElseThrow();
    }
}
