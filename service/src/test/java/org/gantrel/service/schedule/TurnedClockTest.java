package org.gantrel.service.schedule;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.OnMovedClock;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("When the clock is put back")
class TurnedClockTest extends OnMovedClock {

    private static final Instant ONE = Instant.parse("2026-11-23T01:00:00Z");

    private void moveTo(Instant at) {
        clock.moveTo(at);
        service.bean(Waker.class).wake();
    }

    private List<Run> planned(String at) {
        Instant from = Instant.parse(at);
        long team = service.bean(Teams.class).named("revenue").orElseThrow().id();
        return service.bean(Runs.class).planned(List.of(team), from, from.plusSeconds(1), 10);
    }

    private long flowed() {
        long team = service.bean(Teams.class).named("revenue").orElseThrow().id();
        return service.bean(Runs.class).planned(List.of(team), Instant.EPOCH, ONE.plusSeconds(60), 100).stream()
                .filter(run -> run.jobName().equals("flows") && run.state().isEnded())
                .count();
    }

    /** How often it was noticed. */
    private long putBack() {
        return service.bean(Journal.class).after(0, 1_000).stream()
                .filter(event -> event.type().equals("gantrel.service.clock-put-back"))
                .count();
    }

    private List<RunState> came(String at) {
        return planned(at).stream().map(Run::state).sorted().toList();
    }

    /** Three starts are due at hours that have not come yet, though the clock says so. */
    private void isFarAhead() {
        service.task(
                "counts",
                "true",
                """
                schedules:
                  - { name: six, when: "every day at 06:00", zone: UTC }
                  - { name: seven, when: "every day at 07:00", zone: UTC, missed: { run: latest, within: PT20H } }
                  - { name: eight, when: "every day at 08:00", zone: UTC }
                  - { name: off, when: "every day at 08:30", zone: UTC }
                """);
        service.bean(Schedules.class).switchTo(LiveService.SERVICE, "counts", "off", false);
        moveTo(Instant.parse("2026-11-23T20:00:00Z"));
        Await.until(
                "all are accounted for",
                () -> came("2026-11-23T06:00:00Z").equals(List.of(RunState.MISSED))
                        && came("2026-11-23T07:00:00Z").equals(List.of(RunState.SUCCEEDED))
                        && came("2026-11-23T08:00:00Z").equals(List.of(RunState.MISSED)));
        service.bean(Schedules.class).switchTo(LiveService.SERVICE, "counts", "off", true);
    }

    private void comesAgain() {
        moveTo(Instant.parse("2026-11-23T06:00:00Z"));
        List<RunState> missedBefore = List.of(RunState.SUCCEEDED, RunState.MISSED);
        Await.until("six", () -> came("2026-11-23T06:00:00Z").equals(missedBefore));
        moveTo(Instant.parse("2026-11-23T07:00:00Z"));
        moveTo(Instant.parse("2026-11-23T08:00:00Z"));
        Await.until("eight", () -> came("2026-11-23T08:00:00Z").equals(missedBefore));
        assertThat(planned("2026-11-23T07:00:00Z")).hasSize(1);
        moveTo(Instant.parse("2026-11-23T08:30:00Z"));
        Await.until("half past", () -> came("2026-11-23T08:30:00Z").contains(RunState.SUCCEEDED));
        moveTo(Instant.parse("2026-11-24T06:00:00Z"));
        Await.until("the next day", () -> came("2026-11-24T06:00:00Z").equals(List.of(RunState.SUCCEEDED)));
    }

    @Test
    @DisplayName("what counted as missed comes again at its time, what started does not, and that is said")
    void comesAgainAtItsTime() {
        isFarAhead();
        assertThat(planned("2026-11-23T06:00:00Z").get(0).message())
                .startsWith("nothing went on from 23 Nov 01:00:00 to 23 Nov 20:00:00: the machine slept");
        moveTo(ONE);
        Await.until("it is said", () -> putBack() == 1);
        comesAgain();
        moveTo(Instant.parse("2026-11-24T20:00:00Z"));
        Await.until("it is missed", () -> came("2026-11-24T08:00:00Z").equals(List.of(RunState.MISSED)));
        assertThat(planned("2026-11-24T08:00:00Z").get(0).message())
                .startsWith("nothing went on from 24 Nov 06:00:00 to 24 Nov 20:00:00: the machine slept");
    }

    @Test
    @DisplayName("so it does where that was while the service was stopped")
    void comesAgainAfterARestart() throws IOException {
        isFarAhead();
        service.close();
        clock.moveTo(ONE);
        service.open();
        comesAgain();
    }

    @Test
    @DisplayName("what waits for a while waits no longer for that: tries, looks at gates, steps")
    void goesOn() throws IOException {
        service.task("works", "test -e " + folder + "/tried || exit 1", "retry: { tries: 3, wait: 20 min }\n");
        service.task("looks", "true", "gates: [ { file: " + folder + "/gate, settled: 1 s } ]\n");
        service.task("first", "until test -e " + folder + "/go; do sleep 0.05; done", "time-limit: 5 h\n");
        service.task("second", "true", "");
        service.define(
                "chain: both\nteam: revenue\nsteps: [ { step: a, job: first }, { step: b, job: second, after: [ a ] } ]\n");
        Run works = service.start("works");
        service.waits(works, "try 2 of 3");
        Files.writeString(folder.resolve("tried"), "");
        Run looks = service.start("looks");
        service.waits(looks, "the file ");
        Run both = service.start("both");
        Await.until("its step runs", () -> service.children(both).stream()
                .anyMatch(step -> step.state() == RunState.RUNNING));
        service.task("springs", "true", "");
        service.task(
                "flows",
                "true",
                "triggers: [ { name: by, on: run.ended, of: springs, limit: { starts: 1, in: 1 h } } ]\n");
        service.ended(service.start("springs"));
        Await.until("it flows", () -> flowed() == 1);
        move(Duration.ofHours(-3));
        service.ended(service.start("springs"));
        Await.until("it flows again, though that was twice within an hour", () -> flowed() == 2);
        Await.until(
                "the next try is made",
                () -> service.found(works.number()).state().isEnded());
        assertThat(service.found(works.number()).state()).isEqualTo(RunState.SUCCEEDED);
        Files.writeString(folder.resolve("gate"), "");
        var looked = new AtomicInteger();
        Await.until("the gate opens", () -> {
            // a look each half minute, and an hour would be far more of them
            if (looked.incrementAndGet() < 60) {
                move(Duration.ofSeconds(31));
            }
            return service.found(looks.number()).state().isEnded();
        });
        assertThat(looked.get()).isLessThan(60);
        Files.writeString(folder.resolve("go"), "");
        assertThat(service.ended(both).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(service.children(both).get(1).startedAt().orElseThrow()).isBefore(ONE);
    }

    @Test
    @DisplayName("a pause, a question, a meeting and a turn wait at most as long once more, also after a restart")
    void waitsOfSteps() throws IOException {
        service.task("nothing", "true", "");
        service.define(
                """
                chain: waits
                team: revenue
                while-running: 2
                steps:
                  - { step: pause, pause: 20 min }
                  - { step: ask, approval: { by: { team: revenue, role: manager }, within: 20 min, then: go-on }, after: [] }
                  - { step: meet, meeting: there, within: 20 min, after: [] }
                  - { step: turn, job: nothing, repeat: { until: "1 == 2", every: 20 min, times: 2 }, after: [] }
                  - { step: morning, pause: { until: "02:00" }, after: [] }
                """);
        Run live = service.start("waits");
        Await.until("all wait", () -> waiting(live).size() == 5);
        service.close();
        clock.moveTo(ONE.minus(Duration.ofHours(5)));
        service.open();
        Run again = service.start("waits");
        Await.until("all wait", () -> waiting(again).size() == 5);
        move(Duration.ofHours(-3));
        Await.until("it is noticed", () -> putBack() == 2);
        move(Duration.ofMinutes(21));
        for (Run each : List.of(live, again)) {
            Await.until("only the morning has not come", () -> waiting(each).equals(List.of("morning")));
        }
    }

    private List<String> waiting(Run chain) {
        return service.bean(TransactionTemplate.class).execute(status -> {
            ChainSteps.Of steps = service.bean(ChainSteps.class).of(chain.number());
            return steps.underWay().stream()
                    .filter(step -> steps.row(step).untilAt().isPresent())
                    .sorted()
                    .toList();
        });
    }
}
