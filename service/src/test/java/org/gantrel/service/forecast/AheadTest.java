package org.gantrel.service.forecast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.core.forecast.Coming;
import org.gantrel.core.forecast.Simulation.Outcome;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Stop;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.chain.StepRecord;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("What is played of what is to come")
class AheadTest {

    private static final Instant NOON = Instant.parse("2026-11-28T12:00:00Z");
    private static final int STEPS = 40;

    @TempDir
    private Path folder;

    @Test
    @DisplayName("is played step by step as far as there are not too many, and as a whole after that")
    void isBounded() {
        String steps = IntStream.range(0, STEPS)
                .mapToObj(step -> "  - { step: s" + step + ", job: small }\n")
                .collect(Collectors.joining());
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            service.define(
                    "task: small\nteam: revenue\ndoes: { command: [ \"true\" ] }\n---\nchain: often\nteam: revenue\n"
                            + "steps:\n" + steps
                            + "schedules: [ { name: minutely, when: every minute, zone: UTC } ]\n");
            List<Outcome> outcomes = List.copyOf(service.bean(Ahead.class)
                    .play(NOON, NOON.plus(Duration.ofDays(1)), Supposed.NOTHING)
                    .starts()
                    .values());
            assertThat(outcomes).hasSizeGreaterThan(1_400);
            int whole = (int) outcomes.stream()
                    .filter(each -> each.run().parts().isEmpty())
                    .count();
            assertThat(outcomes.size() - whole).isEqualTo(Courses.MOST_PARTS / STEPS);
            assertThat(outcomes.get(0).run().parts()).hasSize(STEPS);
            assertThat(outcomes).allMatch(each -> each.ends().isPresent());
        }
    }

    @Test
    @DisplayName(
            "goes by a rule that is supposed as if it stood in the schedule, which may have no start then or be off")
    void supposesRules() {
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            service.define(
                    """
                    calendar: days-off
                    team: revenue
                    days: none
                    open: [ { on: 2026-11-29, label: Advent } ]
                    ---
                    task: counts
                    team: revenue
                    does: { command: [ "true" ] }
                    schedules:
                      - { name: yearly, when: every year on 24 December at 04:00, zone: UTC, except: days-off }
                      - { name: paused, when: every day at 03:00, zone: UTC, on: no }
                      - { name: often, when: every 6 hours, zone: UTC }
                    """);
            assertThat(starts(
                            service,
                            48,
                            "schedule.counts/yearly=every day at 13:00",
                            "schedule.counts/paused=every day at 12:00"))
                    .containsExactly(
                            "paused 28T12",
                            "often 28T12",
                            "yearly 28T13",
                            "often 28T18",
                            "often 29T00",
                            "often 29T06",
                            "paused 29T12",
                            "often 29T12",
                            "often 29T18",
                            "often 30T00",
                            "often 30T06");
            service.define("chain: both\nteam: revenue\nsteps: [ { step: one, job: counts } ]\n");
            assertThatThrownBy(() -> starts(service, 6, "duration.both=3 h"))
                    .hasMessageContaining("takes as long as its steps do")
                    .hasMessageContaining("duration.counts=");
            assertThat(starts(service, 6)).containsExactly("often 28T12");
        }
    }

    private static List<String> starts(LiveService service, int hours, String... suppose) {
        return service
                .bean(Forecasts.class)
                .between(
                        LiveService.SERVICE,
                        NOON,
                        NOON.plus(Duration.ofHours(hours)),
                        Optional.empty(),
                        Optional.of("counts"),
                        List.of(suppose))
                .starts()
                .stream()
                .map(each -> each.schedule() + " " + each.at().toString().substring(8, 13))
                .toList();
    }

    @Test
    @DisplayName(
            "has each row of a sweep for itself: one that works takes a place of the service, one that leads others none")
    void hasRows() {
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            service.define(
                    """
                    lane: cards
                    team: revenue
                    width: 1
                    ---
                    task: small
                    team: revenue
                    lanes: [ cards ]
                    parameters: { route: { type: text } }
                    does: { command: [ "true" ] }
                    ---
                    chain: both
                    team: revenue
                    lanes: [ cards ]
                    parameters: { route: { type: text } }
                    steps: [ { step: one, job: small, with: { route: "${route}" } } ]
                    ---
                    roster: routes
                    team: revenue
                    columns: [ route ]
                    rows: [ { route: skarholm }, { route: sound }, { route: outer-isles } ]
                    at-once: 2
                    ---
                    chain: night
                    team: revenue
                    steps:
                      - { step: tasks, job: small, over: routes }
                      - { step: chains, job: both, over: routes }
                    schedules: [ { name: nightly, when: every day at 13:00, zone: UTC } ]
                    """);
            List<Coming.Part> steps = service.bean(Ahead.class)
                    .play(NOON, NOON.plus(Duration.ofHours(2)), Supposed.NOTHING)
                    .starts()
                    .values()
                    .iterator()
                    .next()
                    .run()
                    .parts();
            assertThat(steps).hasSize(2).allMatch(step -> step.run().parent());
            for (int step = 0; step < 2; step++) {
                boolean leads = step == 1;
                List<Coming.Part> rows = steps.get(step).run().parts();
                assertThat(rows).hasSize(3).allMatch(row -> row.run().parent() == leads);
                assertThat(rows).allMatch(row -> row.run().demand().lanes().containsKey("cards"));
                assertThat(rows.get(2).after()).containsExactly(0);
            }
        }
    }

    @Test
    @DisplayName("tells runs apart by the values that they will have, wherever these come from")
    void tellsApart() {
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            service.define(
                    """
                    task: small
                    team: revenue
                    apart-by: [ route ]
                    parameters: { route: { type: text, default: sound } }
                    does: { command: [ "true" ] }
                    schedules: [ { name: daily, when: every day at 13:00, zone: UTC, with: { route: "r${planned.date}" } } ]
                    ---
                    chain: both
                    team: revenue
                    parameters: { first: { type: text, default: skarholm } }
                    steps:
                      - { step: one, job: small, with: { route: "${first}" } }
                      - { step: two, job: small, after: [] }
                      - { step: three, job: small, after: one, with: { route: "${one.state}" } }
                    schedules: [ { name: daily, when: every day at 13:00, zone: UTC } ]
                    """);
            List<String> crowds = service
                    .bean(Ahead.class)
                    .play(NOON, NOON.plus(Duration.ofHours(2)), Supposed.NOTHING)
                    .starts()
                    .values()
                    .stream()
                    .flatMap(start -> Stream.concat(
                            Stream.of(start.run()), start.run().parts().stream().map(Coming.Part::run)))
                    .map(run -> run.demand().crowd().text())
                    .toList();
            assertThat(crowds)
                    .containsExactlyInAnyOrder(
                            "small with route r2026-11-28",
                            "both",
                            "small with route skarholm",
                            "small with route sound",
                            "small with route ${one.state}");
        }
    }

    @Test
    @DisplayName("goes on with a run between its tries when the next one comes, and for as long as usual from then")
    void triesAgain() throws IOException {
        var clock = new MovableClock(NOON);
        try (var service = LiveService.fresh(folder, clock)) {
            service.task("flaky", "test $GANTREL_TRY = 2", "retry: { tries: 2, wait: 40 min }\n");
            Run run = service.start("flaky");
            Await.until(
                    "its first try fails",
                    () -> service.found(run.number()).again().isPresent());
            clock.moveBy(Duration.ofMinutes(10));
            Outcome outcome = service.bean(Ahead.class)
                    .play(clock.instant(), NOON.plus(Duration.ofHours(2)), Supposed.NOTHING)
                    .runs()
                    .get(run.number());
            assertThat(outcome.begins())
                    .contains(service.found(run.number()).again().orElseThrow().at());
        }
    }

    @Test
    @DisplayName(
            "waits as long as usual where people, or other chains, are waited for; no shorter than it has waited already")
    void waitsForOthers() {
        var clock = new MovableClock(NOON);
        try (var service = LiveService.fresh(folder, clock)) {
            service.define(
                    """
                    chain: ferry
                    team: revenue
                    while-running: 2
                    parameters: { passengers: { type: number, default: 1 } }
                    steps: [ { step: quay, meeting: harbour, with-chains: [ train ], within: 8 h, when: "passengers == '1'" } ]
                    schedules: [ { name: daily, when: every day at 01:00, zone: UTC } ]
                    ---
                    chain: train
                    team: revenue
                    steps: [ { step: platform, meeting: harbour, with-chains: [ ferry ], within: 8 h } ]
                    """);
            Run ferry = service.start("ferry");
            Await.until("it waits there", () -> waits(service, ferry));
            clock.moveBy(Duration.ofMinutes(45));
            service.ended(service.start("train"));
            assertThat(service.ended(ferry).state()).isEqualTo(RunState.SUCCEEDED);
            Instant planned = Instant.parse("2026-11-29T01:00:00Z");
            assertThat(played(service, clock).starts().values())
                    .extracting(outcome -> outcome.ends().orElseThrow())
                    .containsExactly(planned.plus(Duration.ofMinutes(45)));
            clock.moveTo(planned.plusSeconds(1));
            service.bean(Waker.class).wake();
            Await.until("the planned one waits there", () -> service.bean(Runs.class).underwayAll().stream()
                    .anyMatch(run -> waits(service, run)));
            assertThat(ends(service, clock))
                    .isEqualTo(planned.plus(Duration.ofMinutes(45)).plusSeconds(1));
            clock.moveBy(Duration.ofHours(2));
            assertThat(ends(service, clock)).isEqualTo(clock.instant());
            service.ended(service.start("ferry", Map.of("passengers", "0")));
            assertThat(service.bean(ChainSteps.class).usualWithoutRun(ferry.jobId()))
                    .as("what was not asked took no time, and says nothing of how long an answer takes")
                    .containsEntry("quay", Duration.ofMinutes(45));
        }
    }

    @Test
    @DisplayName("runs those steps whose conditions will hold, and where that is not known yet those that usually ran")
    void knowsConditions() {
        var clock = new MovableClock(NOON);
        try (var service = LiveService.fresh(folder, clock)) {
            service.task("small", "true", "");
            service.task("count", "echo '%gantrel {\"values\": {\"n\": 1}}'", "");
            service.define(
                    """
                    chain: part
                    team: revenue
                    parameters: { route: { type: text } }
                    steps:
                      - { step: isles, job: count, when: "route == 'isles'" }
                      - { step: sound, job: small, after: [], when: "route == 'sound'" }
                    ---
                    chain: tally
                    team: revenue
                    parameters: { route: { type: text, default: isles } }
                    steps:
                      - { step: week, job: small, when: "format(planned.date, 'EEEE') == 'Monday'" }
                      - { step: counted, job: count, after: [] }
                      - { step: more, job: small, after: counted, when: "counted.values.n > 3" }
                      - { step: inner, job: part, after: [ { step: more, on: any } ], with: { route: "${route}" } }
                    schedules: [ { name: daily, when: every day at 01:00, zone: UTC, with: { route: sound } } ]
                    """);
            String later = "count 0, small 1, part 1 [small 0]";
            assertThat(daily(service, clock)).containsExactly(later, "small 0, " + later);
            Run run = service.start("tally");
            assertThat(service.ended(run).state()).isEqualTo(RunState.SUCCEEDED);
            assertThat(service.bean(ChainSteps.class).lately(run.jobId()).seldom())
                    .containsExactlyInAnyOrder("week", "more");
            assertThat(daily(service, clock))
                    .containsExactly("count 0, part 1 [small 0]", "small 0, count 0, part 1 [small 0]");
        }
    }

    @Test
    @DisplayName(
            "does what is done again as often as usual, with the waits between, and of one under way what is left of that")
    void repeats() throws IOException {
        var clock = new MovableClock(NOON);
        try (var service = LiveService.fresh(folder, clock)) {
            Path asked = folder.resolve("asked");
            service.task(
                    "ask",
                    "echo x >> " + asked + "; echo \"{\\\"n\\\": $(wc -l < " + asked + ")}\" > \"$GANTREL_RESULT\"",
                    "");
            service.define(
                    """
                    chain: arrivals
                    team: revenue
                    steps: [ { job: ask, repeat: { until: "ask.values.n == 3", times: 10, every: 5 min } } ]
                    schedules: [ { name: daily, when: every day at 01:00, zone: UTC } ]
                    """);
            assertThat(daily(service, clock)).containsExactly("ask 0", "ask 0");
            Run first = service.start("arrivals");
            for (int turn = 1; turn < 3; turn++) {
                asked(service, first, turn);
                clock.moveBy(Duration.ofMinutes(5));
                service.bean(Waker.class).wake();
            }
            assertThat(service.ended(first).state()).isEqualTo(RunState.SUCCEEDED);
            assertThat(daily(service, clock)).hasSize(2).containsOnly("ask 0, ask 1, ask 1, ask 1, ask 1");
            Files.delete(asked);
            Run second = service.start("arrivals");
            asked(service, second, 1);
            clock.moveBy(Duration.ofMinutes(2));
            // a command's end is taken from the host's own clock, so how long one takes is supposed here
            var minute = new Supposed(Optional.empty(), Map.of(), Map.of("ask", Duration.ofMinutes(1)), Map.of());
            Outcome left = service.bean(Ahead.class)
                    .play(clock.instant(), clock.instant().plus(Duration.ofHours(1)), minute)
                    .runs()
                    .get(second.number());
            assertThat(Duration.between(clock.instant(), left.ends().orElseThrow()))
                    .isEqualTo(Duration.ofMinutes(3 + 1 + 5 + 1));
        }
    }

    /** Waits until a chain's step has been done so often, and waits for the next time. */
    private static void asked(LiveService service, Run chain, int turns) {
        Await.until("it is asked " + turns + " times", () -> service.bean(TransactionTemplate.class)
                .execute(status -> service.bean(ChainSteps.class)
                        .of(chain.number())
                        .find("ask")
                        .filter(step -> step.turn() == turns && step.untilAt().isPresent())
                        .isPresent()));
    }

    /** What each day's start will run: the names of the parts, and how many others each waits for. */
    private static List<String> daily(LiveService service, MovableClock clock) {
        return service
                .bean(Ahead.class)
                .play(clock.instant(), clock.instant().plus(Duration.ofDays(2)), Supposed.NOTHING)
                .starts()
                .values()
                .stream()
                .map(outcome -> parts(outcome.run()))
                .toList();
    }

    private static String parts(Coming run) {
        return run.parts().stream()
                .map(part -> part.run().job() + " " + part.needed()
                        + (part.run().parts().isEmpty() ? "" : " [" + parts(part.run()) + "]"))
                .collect(Collectors.joining(", "));
    }

    @Test
    @DisplayName(
            "of a chain that somebody holds the next step is stuck, and of one that is stopped only the end is left")
    void isHeldAndStopped() {
        var clock = new MovableClock(NOON);
        try (var service = LiveService.fresh(folder, clock)) {
            service.task(
                    "one",
                    "trap '' TERM; until [ -e '" + folder + "/go' ]; do sleep 0.05; done",
                    "stop-patience: 1 h\n");
            service.task("two", "true", "");
            service.define("chain: tour\nteam: revenue\nsteps: [ { job: one }, { job: two } ]\n"
                    + "finally: [ { step: last, job: two } ]\n");
            Run tour = service.start("tour");
            Await.until("its first step is under way", () -> service.children(tour).stream()
                    .anyMatch(run -> run.startedAt().isPresent()));
            ChainSteps chains = service.bean(ChainSteps.class);
            assertThat(left(service, clock)).containsExactly("one", "two", "two");
            chains.hold(tour.number(), "mara.holt", "the tide", NOON);
            Outcome held = played(service, clock).runs().get(tour.number());
            assertThat(Forecasts.words(held.stuck().orElseThrow()))
                    .isEqualTo("two, a step of it, will wait for the end of a hold of the chain, held by mara.holt: "
                            + "the tide, and nothing says until when");
            chains.letGo(tour.number());
            assertThat(played(service, clock).runs().get(tour.number()).stuck()).isEmpty();
            service.bean(Wishes.class).stop(tour.number(), "mara.holt", NOON);
            Await.until(
                    "it is being stopped", () -> service.found(tour.number()).stop() != Stop.NO);
            assertThat(left(service, clock)).containsExactly("one", "two");
            Files.writeString(folder.resolve("go"), "");
            assertThat(service.ended(tour).state()).isEqualTo(RunState.CANCELLED);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** What is left of the one run that is under way. */
    private static List<String> left(LiveService service, MovableClock clock) {
        return played(service, clock).runs().values().iterator().next().run().parts().stream()
                .map(part -> part.run().job())
                .toList();
    }

    private static boolean waits(LiveService service, Run run) {
        return service.bean(TransactionTemplate.class).execute(status -> service.bean(ChainSteps.class)
                .of(run.number())
                .find("quay")
                .filter(StepRecord::isUnderWay)
                .isPresent());
    }

    private static Ahead.Played played(LiveService service, MovableClock clock) {
        return service.bean(Ahead.class)
                .play(clock.instant(), clock.instant().plus(Duration.ofHours(14)), Supposed.NOTHING);
    }

    private static Instant ends(LiveService service, MovableClock clock) {
        return played(service, clock).runs().values().iterator().next().ends().orElseThrow();
    }
}
