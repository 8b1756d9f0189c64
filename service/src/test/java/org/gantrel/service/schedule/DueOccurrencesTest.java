package org.gantrel.service.schedule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.MovableClock;
import org.gantrel.service.TestSettings;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.job.ScheduleFacts;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.start.Serve;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("Due occurrences")
class DueOccurrencesTest {

    private static final Instant MORNING = Instant.parse("2026-11-23T05:58:30Z");
    private static final Caller SERVICE = Caller.service();

    private final MovableClock clock = new MovableClock(MORNING);
    private Path data;
    private ConfigurableApplicationContext service;

    @BeforeEach
    void start() throws IOException {
        data = Files.createTempDirectory("due");
        open();
        service.getBean(Teams.class).create(SERVICE, "revenue", "");
    }

    @AfterEach
    void end() {
        service.close();
    }

    private void open() throws IOException {
        service = Serve.start(TestSettings.in(data, 4), clock);
    }

    private void define(String schedules) {
        String text =
                """
                task: tick
                team: revenue
                parameters: { day: { type: date, default: "${planned.date}" } }
                does: { command: [ "true" ] }
                schedules: %s
                """
                        .formatted(schedules);
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("t", text))));
    }

    private List<Run> runs() {
        List<Long> teams =
                service.getBean(Teams.class).all().stream().map(Team::id).toList();
        return service.getBean(Runs.class).planned(teams, Instant.EPOCH, Instant.parse("2030-01-01T00:00:00Z"), 5_000);
    }

    /** Moves the clock and waits until the engine has ended so many runs. */
    private List<Run> afterMovingTo(String instant, int ended) {
        clock.moveTo(Instant.parse(instant));
        service.getBean(Waker.class).wake();
        Await.until(
                ended + " runs ended",
                () -> runs().stream().filter(run -> run.state().isEnded()).count() >= ended);
        return runs();
    }

    @Test
    @DisplayName("start once, at their time, with values worked out from it")
    void startOnce() {
        define("[ { name: hourly, when: 0 * * * *, zone: Pacific/Auckland } ]");
        List<Run> found = afterMovingTo("2026-11-23T11:00:00.020Z", 6);
        assertThat(found).extracting(Run::plannedAt).doesNotHaveDuplicates();
        Run latest = found.get(5);
        assertThat(latest.plannedAt()).isEqualTo("2026-11-23T11:00:00Z");
        assertThat(latest.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(latest.parameters()).containsEntry("day", "2026-11-24");
        assertThat(latest.causeRef()).isEqualTo("hourly");
        service.getBean(Waker.class).wake();
        assertThat(afterMovingTo("2026-11-23T11:59:59Z", 6)).hasSize(6);
    }

    @Test
    @DisplayName("that came while the service was down are missed, each with the reason, and the next one starts")
    void missedWhileDown() throws IOException {
        define("[ { name: half-hourly, when: every 30 minutes, zone: Europe/Oslo } ]");
        service.close();
        clock.moveTo(Instant.parse("2026-11-23T07:10:00Z"));
        open();
        List<Run> found = afterMovingTo("2026-11-23T07:30:00Z", 4);
        assertThat(found)
                .extracting(Run::state)
                .containsExactly(RunState.MISSED, RunState.MISSED, RunState.MISSED, RunState.SUCCEEDED);
        assertThat(found.get(0).message()).isEqualTo("the service was down from 23 Nov 06:58:30 to 23 Nov 08:10:00");
        assertThat(found.get(0).startedAt()).isEmpty();
    }

    @Test
    @DisplayName("within the grace still start, late")
    void withinTheGrace() throws IOException {
        define("[ { name: six, when: every day at 06:00, zone: UTC } ]");
        service.close();
        clock.moveTo(Instant.parse("2026-11-23T06:00:40Z"));
        open();
        Run run = afterMovingTo("2026-11-23T06:00:41Z", 1).get(0);
        assertThat(run.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(run.startedAt()).isPresent();
    }

    @Test
    @DisplayName("of a schedule that is off do not come; switched on it goes on from then")
    void switchedOff() {
        define("[ { name: hourly, when: every hour, zone: UTC } ]");
        Schedules schedules = service.getBean(Schedules.class);
        schedules.switchTo(SERVICE, "tick", "hourly", false);
        clock.moveTo(Instant.parse("2026-11-23T09:30:00Z"));
        service.getBean(Waker.class).wake();
        schedules.switchTo(SERVICE, "tick", "hourly", true);
        List<Run> found = afterMovingTo("2026-11-23T10:00:00Z", 1);
        assertThat(found).extracting(Run::plannedAt).containsExactly(Instant.parse("2026-11-23T10:00:00Z"));
    }

    @Test
    @DisplayName(
            "that came while the schedule was off are each accounted for, and the latest starts where that is wanted")
    void catchUp() {
        define("[ { name: hourly, when: every hour, zone: UTC, missed: { run: latest, within: PT3H } } ]");
        Schedules schedules = service.getBean(Schedules.class);
        schedules.switchTo(SERVICE, "tick", "hourly", false);
        clock.moveTo(Instant.parse("2026-11-23T09:30:00Z"));
        schedules.switchTo(SERVICE, "tick", "hourly", true);
        List<Run> found = afterMovingTo("2026-11-23T09:31:00Z", 1);
        assertThat(found).extracting(Run::plannedAt).containsExactly(Instant.parse("2026-11-23T09:00:00Z"));
        assertThat(schedules.occurrences(SERVICE, "tick", "hourly", clock.instant(), 10))
                .extracting(one -> one.at() + " " + one.state())
                .containsExactly(
                        "2026-11-23T09:00:00Z succeeded",
                        "2026-11-23T08:00:00Z skipped",
                        "2026-11-23T07:00:00Z skipped",
                        "2026-11-23T06:00:00Z skipped");
    }

    @Test
    @DisplayName("on a day that their calendar does not have are skipped, and the run says why")
    void skippedByCalendar() {
        bringIn("calendar: free\nteam: revenue\nclosed: [ { on: 2026-11-23, label: Founders' day } ]\n");
        define("[ { name: six, when: every day at 06:00, zone: UTC, calendar: free } ]");
        Run run = afterMovingTo("2026-11-23T06:00:00Z", 1).get(0);
        assertThat(run.state()).isEqualTo(RunState.SKIPPED);
        assertThat(run.message()).isEqualTo("2026-11-23 is no day of free (Founders' day)");
    }

    @Test
    @DisplayName("follow their calendar: a day that it gets back comes due, however late that is said")
    void followTheCalendar() {
        String free = "calendar: free\nteam: revenue\ndays: weekdays\n";
        bringIn(free + "closed: [ { on: 2026-11-23 } ]\n");
        define("[ { name: six, when: every working day at 06:00, zone: UTC, calendar: free } ]");
        bringIn(free);
        Run run = afterMovingTo("2026-11-23T06:00:00Z", 1).get(0);
        assertThat(run.plannedAt()).isEqualTo("2026-11-23T06:00:00Z");
        assertThat(run.state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName(
            "follow their calendar, though somebody who saw it as it was before looks at its days after it is saved")
    void followTheCalendarAsItIs() {
        String free = "calendar: free\nteam: revenue\ndays: weekdays\n";
        bringIn(free + "closed: [ { on: 2026-11-23 } ]\n");
        define("[ { name: six, when: every working day at 06:00, zone: UTC, calendar: free } ]");
        var saving = new Thread(() -> bringIn(free));
        Calendars calendars = service.getBean(Calendars.class);
        service.getBean(TransactionTemplate.class).executeWithoutResult(status -> {
            assertThat(calendars.currentText("free"))
                    .hasValueSatisfying(text -> assertThat(text).contains("closed"));
            saving.start();
            join(saving);
            assertThat(calendars.days("free")).isPresent();
        });
        Run run = afterMovingTo("2026-11-23T06:00:00Z", 1).get(0);
        assertThat(run.plannedAt()).isEqualTo("2026-11-23T06:00:00Z");
        assertThat(run.state()).isEqualTo(RunState.SUCCEEDED);
    }

    private static void join(Thread thread) {
        try {
            thread.join();
        } catch (InterruptedException e) {
            throw new AssertionError(e);
        }
    }

    private void bringIn(String text) {
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("c", text))));
    }

    @Test
    @DisplayName("follow the definition: a schedule that is changed begins anew, one that is gone comes no more")
    void followTheDefinition() {
        define(
                "[ { name: a, when: every day at 06:00, zone: UTC }, { name: b, when: every day at 06:01, zone: UTC } ]");
        define("[ { name: a, when: every day at 06:05, zone: UTC } ]");
        List<Run> found = afterMovingTo("2026-11-23T06:05:00Z", 1);
        assertThat(found).extracting(Run::plannedAt).containsExactly(Instant.parse("2026-11-23T06:05:00Z"));
        assertThat(found.get(0).revision()).isEqualTo(2);
    }

    @Test
    @DisplayName("cannot be recorded twice: the database itself refuses a second record of the same instant")
    void cannotBeRecordedTwice() {
        define("[ { name: six, when: every day at 06:00, zone: UTC } ]");
        Run run = afterMovingTo("2026-11-23T06:00:00Z", 1).get(0);
        var record = service.getBean(ScheduleStore.class).findAll().get(0);
        var twice = new OccurrenceRecord(
                record, Instant.parse("2026-11-23T06:00:00Z"), OccurrenceRecord.Outcome.STARTED, "", run.number());
        assertThatThrownBy(() -> service.getBean(OccurrenceStore.class).save(twice))
                .isInstanceOf(DataIntegrityViolationException.class);
    }

    @Test
    @DisplayName("of a long absence are all accounted for")
    void longAbsence() throws IOException {
        define("[ { name: often, when: every minute, zone: UTC } ]");
        service.close();
        clock.moveTo(Instant.parse("2026-11-23T16:00:30Z"));
        open();
        List<Run> found = afterMovingTo("2026-11-23T16:00:31Z", 602);
        assertThat(found).hasSize(602).extracting(Run::plannedAt).doesNotHaveDuplicates();
        assertThat(found.subList(0, 601)).allMatch(run -> run.state() == RunState.MISSED);
    }

    @Test
    @DisplayName("are not lost when the rule is changed before they are recorded")
    void outliveAChangedRule() {
        define("[ { name: six, when: every day at 06:00, zone: UTC } ]");
        clock.moveTo(Instant.parse("2026-11-23T06:00:10Z"));
        define("[ { name: six, when: every day at 07:00, zone: UTC } ]");
        assertThat(afterMovingTo("2026-11-23T07:00:00Z", 2))
                .extracting(run -> run.plannedAt().toString())
                .containsExactly("2026-11-23T06:00:00Z", "2026-11-23T07:00:00Z");
    }

    @Test
    @DisplayName("are recorded once, though their calendar is saved while they are just coming")
    void outliveASavedCalendar() {
        String free = "calendar: free\nteam: revenue\ndays: weekdays\n";
        bringIn(free);
        define("[ { name: six, when: every day at 06:00, zone: UTC, calendar: free } ]");
        clock.moveTo(Instant.parse("2026-11-23T05:59:59.900Z"));
        service.getBean(Waker.class).wake();
        Await.until("it is written down ahead", () -> runs().size() == 1);
        bringIn(free + "closed: [ { on: 2026-12-24 } ]\n");
        assertThat(afterMovingTo("2026-11-23T06:00:01Z", 1)).hasSize(1);
        assertThat(afterMovingTo("2026-11-24T06:00:00Z", 2)).hasSize(2);
        assertThat(service.getBean(SetAside.class).next()).isEmpty();
    }

    @Test
    @DisplayName(
            "begin in time with their steps, though these are written down and their gates asked for just ahead of it")
    void inTimeWithTheirSteps() {
        bringIn("task: opens\nteam: revenue\ndoes: { command: [ \"true\" ] }\n"
                + "gates: [ { between: \"06:00\", and: \"07:00\" } ]\n---\nchain: early\nteam: revenue\n"
                + "steps: [ { step: one, job: opens } ]\n"
                + "schedules: [ { name: six, when: every day at 06:00, zone: UTC } ]\n");
        clock.moveTo(Instant.parse("2026-11-23T05:59:59.900Z"));
        service.getBean(Waker.class).wake();
        Runs runs = service.getBean(Runs.class);
        Await.until("its step waits", () -> runs.waiting().stream()
                .anyMatch(
                        run -> run.jobName().equals("opens") && run.waitingFor().equals("its planned time")));
        clock.moveTo(Instant.parse("2026-11-23T06:00:00Z"));
        service.getBean(Waker.class).wake();
        Await.until(
                "it has ended",
                () -> runs.waiting().isEmpty() && runs.underwayAll().isEmpty());
    }

    @Test
    @DisplayName("that are started after all, each, are so one after the other")
    void oneAfterTheOther() throws IOException {
        Path lock = data.resolve("lock-of-the-job");
        String text =
                """
                task: turns
                team: revenue
                does: { shell: "mkdir %1$s || exit 9; sleep 0.2; rmdir %1$s" }
                schedules: [ { name: hourly, when: every hour, zone: UTC, missed: { run: each, within: PT5H } } ]
                """
                        .formatted(lock);
        bringIn(text);
        service.close();
        clock.moveTo(Instant.parse("2026-11-23T09:30:00Z"));
        open();
        List<Run> found = afterMovingTo("2026-11-23T09:30:01Z", 4);
        assertThat(found)
                .extracting(run -> run.plannedAt() + " " + run.state().word())
                .containsExactly(
                        "2026-11-23T06:00:00Z succeeded",
                        "2026-11-23T07:00:00Z succeeded",
                        "2026-11-23T08:00:00Z succeeded",
                        "2026-11-23T09:00:00Z succeeded");
    }

    @Test
    @DisplayName("come as ever after the clock went back, and no limit ends a run because it went forward")
    void whenTheClockJumps() {
        bringIn("task: slow\nteam: revenue\ntime-limit: 1 h\ndoes: { shell: sleep 1 }\n");
        Starts starts = service.getBean(Starts.class);
        Run first = starts.start(SERVICE, "slow", Map.of(), Optional.empty());
        Await.until("it runs", () -> found(first).state() == RunState.RUNNING);
        clock.moveTo(MORNING.plus(Duration.ofDays(2)));
        service.getBean(Waker.class).wake();
        Await.until("it ends", () -> found(first).state().isEnded());
        assertThat(found(first).state()).isEqualTo(RunState.SUCCEEDED);
        clock.moveTo(MORNING.minus(Duration.ofDays(1)));
        Run second = starts.start(SERVICE, "slow", Map.of(), Optional.empty());
        Await.until("it ends", () -> found(second).state().isEnded());
        assertThat(found(second).state()).isEqualTo(RunState.SUCCEEDED);
    }

    private Run found(Run run) {
        return service.getBean(Runs.class).find(run.number()).orElseThrow();
    }

    @Test
    @DisplayName("are each accounted for once, though the schedule is switched off and on all the while")
    void againstTheSwitch() {
        define("[ { name: often, when: every minute, zone: UTC } ]");
        Schedules schedules = service.getBean(Schedules.class);
        Instant end = Instant.parse("2026-11-23T06:30:00Z");
        var switching = CompletableFuture.runAsync(() -> {
            boolean on = false;
            while (clock.instant().isBefore(end)) {
                schedules.switchTo(SERVICE, "tick", "often", on);
                on = !on;
            }
            schedules.switchTo(SERVICE, "tick", "often", true);
        });
        for (Instant at = Instant.parse("2026-11-23T05:59:00Z"); !at.isAfter(end); at = at.plusSeconds(60)) {
            clock.moveTo(at);
            service.getBean(Waker.class).wake();
            LockSupport.parkNanos(Duration.ofMillis(20).toNanos());
        }
        switching.join();
        Await.until("all are accounted for", () -> {
            service.getBean(Waker.class).wake();
            return schedules
                            .occurrences(SERVICE, "tick", "often", end.plusSeconds(1), 100)
                            .size()
                    == 32;
        });
        assertThat(schedules.occurrences(SERVICE, "tick", "often", end.plusSeconds(1), 100))
                .extracting(ScheduleFacts.LastOccurrence::at)
                .doesNotHaveDuplicates();
    }

    @Test
    @DisplayName("of other schedules start while somebody holds one for longer than anybody waits")
    void whileOneIsHeld() {
        define("[ { name: six, when: every day at 06:00, zone: UTC } ]");
        bringIn("task: other\nteam: revenue\ndoes: { command: [ \"true\" ] }\n"
                + "schedules: [ { name: six, when: every day at 06:00, zone: UTC } ]\n");
        var held = new CountDownLatch(1);
        var go = new CountDownLatch(1);
        var holding = CompletableFuture.runAsync(
                () -> service.getBean(TransactionTemplate.class).executeWithoutResult(status -> {
                    Await.until("it is held", () -> !service.getBean(ScheduleStore.class)
                            .holdUnlessHeld(List.of(1L))
                            .isEmpty());
                    held.countDown();
                    await(go);
                }));
        await(held);
        assertThat(afterMovingTo("2026-11-23T06:00:01Z", 1))
                .extracting(Run::jobName)
                .containsExactly("other");
        go.countDown();
        holding.join();
        assertThat(afterMovingTo("2026-11-23T06:00:02Z", 2)).hasSize(2);
    }

    private static void await(CountDownLatch latch) {
        try {
            assertThat(latch.await(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS))
                    .isTrue();
        } catch (InterruptedException e) {
            throw new AssertionError(e);
        }
    }

    @Test
    @DisplayName("of a year and more are looked ahead to without holding them all in memory")
    void lookedAheadTo() {
        define("[ { name: often, when: every minute, zone: UTC } ]");
        List<Schedules.Coming> coming = service.getBean(Schedules.class)
                .coming(SERVICE, MORNING, MORNING.plus(Duration.ofDays(400)), job -> true, 1_000);
        assertThat(coming).hasSize(1_000);
        assertThat(coming.get(999).at()).isEqualTo("2026-11-23T22:38:00Z");
    }
}
