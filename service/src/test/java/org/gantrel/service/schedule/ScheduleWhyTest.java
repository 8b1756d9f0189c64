package org.gantrel.service.schedule;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.MovableClock;
import org.gantrel.service.TestSettings;
import org.gantrel.service.imports.Imports;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.ImportBody;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.retention.Retentions;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
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

@DisplayName("Why a schedule started its job at a moment, or did not")
class ScheduleWhyTest {

    private static final Instant BEGIN = Instant.parse("2026-11-23T05:58:30Z");
    private static final Caller SERVICE = Caller.service();
    private static final long SEED = Long.getLong("gantrel.seed", 7);

    private final MovableClock clock = new MovableClock(BEGIN);
    private Path data;
    private ConfigurableApplicationContext service;

    /** How it stood from an instant on, as the test itself has it. */
    private record Stood(int revision, int minutes, boolean on) {}

    private final TreeMap<Instant, Stood> book = new TreeMap<>();

    @BeforeEach
    void start() throws IOException {
        data = Files.createTempDirectory("why");
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

    private void define(String text) {
        service.getBean(Imports.class).bringIn(SERVICE, false, new ImportBody(List.of(new DefinitionFile("t", text))));
    }

    private void defineEvery(int minutes) {
        define(tick("[ { name: often, when: \"*/%d * * * *\", zone: UTC } ]".formatted(minutes)));
    }

    private static String tick(String schedules) {
        return "task: tick\nteam: revenue\nkeep: { runs: 2 days }\ndoes: { command: [ \"true\" ] }\nschedules: "
                + schedules;
    }

    private ScheduleWhy.Answer why(String at) {
        return service.getBean(ScheduleWhy.class).why(SERVICE, "tick", "often", at, clock.instant());
    }

    private List<Run> runs() {
        List<Long> teams =
                service.getBean(Teams.class).all().stream().map(Team::id).toList();
        return service.getBean(Runs.class).planned(teams, Instant.EPOCH, Instant.parse("2030-01-01T00:00:00Z"), 5_000);
    }

    /** Moves the clock and waits until the engine has accounted for all until then. */
    private void moveTo(Instant instant) {
        clock.moveTo(instant);
        service.getBean(Waker.class).wake();
        Await.until(
                "all due is accounted for, and has ended",
                () -> service.getBean(ScheduleStore.class).inUse().stream()
                                .noneMatch(record ->
                                        record.isOn() && !record.nextAt().isAfter(instant))
                        && runs().stream().allMatch(run -> run.state().isEnded() || run.isAhead(instant)));
    }

    private void stands(int revision, int minutes, boolean on) {
        book.put(clock.instant(), new Stood(revision, minutes, on));
    }

    @Test
    @DisplayName("is told of every minute of a day on which it was changed, switched and down, as it was then")
    void ofEveryMinute() throws IOException {
        var random = new Random(SEED);
        int revision = 1;
        int minutes = 5;
        boolean on = true;
        defineEvery(minutes);
        stands(revision, minutes, on);
        for (int i = 0; i < 8; i++) {
            moveTo(clock.instant().plus(random.nextInt(1, 40), ChronoUnit.MINUTES));
            switch (random.nextInt(6)) {
                case 0, 1 -> {
                    int other = 2 + random.nextInt(9);
                    if (other != minutes) {
                        minutes = other;
                        defineEvery(minutes);
                        revision++;
                    }
                }
                case 2, 3 -> {
                    on = !on;
                    service.getBean(Schedules.class).switchTo(SERVICE, "tick", "often", on);
                }
                case 4 -> {
                    service.close();
                    clock.moveTo(clock.instant().plus(random.nextInt(1, 40), ChronoUnit.MINUTES));
                    open();
                }
                default -> moveTo(clock.instant().plus(random.nextInt(1, 90), ChronoUnit.SECONDS));
            }
            stands(revision, minutes, on);
        }
        moveTo(clock.instant().plusSeconds(90));
        Map<Instant, Run> byTime = runs().stream().collect(Collectors.toMap(Run::plannedAt, Function.identity()));
        for (Instant at = BEGIN.truncatedTo(ChronoUnit.MINUTES);
                at.isBefore(clock.instant().plus(1, ChronoUnit.HOURS));
                at = at.plus(1, ChronoUnit.MINUTES)) {
            check(why(at.toString()), byTime.get(at), minutes, on);
        }
    }

    private void check(ScheduleWhy.Answer answer, Run run, int minutes, boolean on) {
        Instant at = answer.at();
        boolean ahead = at.isAfter(clock.instant());
        Stood stood = ahead
                ? new Stood(0, minutes, on)
                : book.floorEntry(at) == null ? null : book.floorEntry(at).getValue();
        String outcome = answer.outcome();
        if (stood == null) {
            assertThat(answer.sentence())
                    .startsWith("there was no such job yet: it was made on Mon 23 Nov 05:58:30 (UTC) by ");
        } else if (at.atZone(ZoneOffset.UTC).getMinute() % stood.minutes != 0) {
            assertThat(outcome).as(answer.sentence()).isEqualTo("no-occurrence");
            assertThat(answer.sentence()).contains("'*/" + stood.minutes + " * * * *' d", " not name ");
            assertThat(run).isNull();
        } else if (ahead) {
            assertThat(outcome).isEqualTo("coming");
            assertThat(answer.sentence()).startsWith(on ? "it will start then" : "it would start then, but");
        } else if (run == null) {
            assertThat(stood.on).as(answer.toString()).isFalse();
            assertThat(answer.sentence()).contains("switched off");
            assertThat(outcome).isIn("skipped", "no-occurrence");
        } else {
            assertThat(answer.run()).isEqualTo(run.number());
            assertThat(outcome)
                    .isEqualTo(
                            run.state() == RunState.SUCCEEDED
                                    ? "started"
                                    : run.state().word());
        }
        if (stood != null && !ahead) {
            assertThat(answer.revision()).as("at " + at).isEqualTo(stood.revision);
        }
        var named = new ArrayList<Instant>();
        for (int i = -20; i <= 20; i++) {
            Instant near = at.plus(i, ChronoUnit.MINUTES);
            if (i != 0 && near.atZone(ZoneOffset.UTC).getMinute() % minutes == 0) {
                named.add(near);
            }
        }
        assertThat(named.stream().filter(at::isAfter).reduce((first, last) -> last))
                .contains(answer.before());
        assertThat(named.stream().filter(at::isBefore).findFirst()).contains(answer.next());
    }

    @Test
    @DisplayName("says what became of the run, how late it began and for what it waited")
    void saysWhatBecameOfIt() throws IOException {
        Path go = data.resolve("go");
        define("lane: pier\nteam: revenue\nwidth: 1\n---\n"
                + tick("[ { name: often, when: every day at 06:00, zone: UTC } ]")
                        .replace(
                                "does: { command: [ \"true\" ] }",
                                "lanes: [ pier ]\nretry: { tries: 2, wait: 30 min }\n"
                                        + "does: { shell: \"test $GANTREL_TRY = 2\" }")
                + "\n---\ntask: other\nteam: revenue\nlanes: [ pier ]\n"
                + "does: { shell: \"until test -e " + go + "; do sleep 0.05; done\" }\n"
                + "schedules: [ { name: first, when: every day at 05:59, zone: UTC } ]");
        clock.moveTo(Instant.parse("2026-11-23T05:59:00Z"));
        service.getBean(Waker.class).wake();
        Runs runs = service.getBean(Runs.class);
        Await.until("the other goes", () -> runs.underway() == 1);
        clock.moveTo(Instant.parse("2026-11-23T06:00:00Z"));
        service.getBean(Waker.class).wake();
        Await.until("it waits", () -> why("2026-11-23T06:00:00Z").outcome().equals("started"));
        Await.until("it says for what", () -> why("2026-11-23T06:00:00Z")
                .sentence()
                .endsWith("was started as run 1002, which waits for a place in lane pier: 1 of 1 taken"));
        clock.moveTo(Instant.parse("2026-11-23T06:40:00Z"));
        Files.createFile(go);
        Await.until(
                "its first try has failed",
                () -> why("2026-11-23T06:00:00Z").sentence().contains("and waits for try 2 of 2"));
        clock.moveTo(Instant.parse("2026-11-23T07:20:00Z"));
        service.getBean(Waker.class).wake();
        Await.until("it has ended", () -> runs.waiting().isEmpty() && runs.underway() == 0);
        ScheduleWhy.Answer answer = why("2026-11-23T06:00:00Z");
        assertThat(answer.sentence())
                .startsWith(
                        "the occurrence at Mon 23 Nov 06:00:00 (UTC) was started as run 1002, which began 40 min late,"
                                + " having waited 40 min for a place in lane pier: 1 of 1 taken, and succeeded at ")
                .endsWith(" (try 2)");
        assertThat(answer.runState()).isEqualTo("succeeded");
    }

    @Test
    @DisplayName("says that there was no such schedule, that it was out of its days, and that nothing is kept any more")
    void saysWhatElse() {
        define("calendar: free\nteam: revenue\nclosed: [ { on: 2026-11-24, label: Founders' day } ]\n");
        define(tick("[]"));
        moveTo(Instant.parse("2026-11-23T06:30:00Z"));
        define(
                tick(
                        "[ { name: often, when: every day at 06:00, zone: UTC, calendar: free, shift: following, from: 2026-11-23 } ]"));
        assertThat(why("2026-11-23T06:00:00Z").sentence())
                .isEqualTo("the job had no such schedule then: its revision 1, which held, does not have it");
        assertThat(why("2026-11-24T06:00:00Z").sentence())
                .isEqualTo("2026-11-24 is no day of free (Founders' day); the start moves to the next day of it");
        moveTo(Instant.parse("2026-11-25T06:30:00Z"));
        assertThat(why("2026-11-25T06:00:00Z").sentence())
                .startsWith("the occurrence at Wed 25 Nov 06:00:00 (UTC) was missed: nothing went on from");
        define("calendar: free\nteam: revenue\n");
        assertThat(why("2026-11-24T06:00:00Z").sentence())
                .isEqualTo("the schedule names that moment, and nothing was written down of it; the calendar free was"
                        + " changed after that, on Wed 25 Nov 06:30:00 (UTC) by gantrel");
        moveTo(Instant.parse("2026-11-29T06:30:00Z"));
        Await.until("its end is told to all who want to know of it, and it goes", () -> {
            service.getBean(Retentions.class).thin();
            return why("2026-11-25T06:00:00Z")
                    .sentence()
                    .startsWith("the schedule named that moment; what became of it is no longer kept");
        });
        assertThat(why("2026-11-29T06:00:00Z").outcome()).isEqualTo("missed");
        assertThat(why("0001-01-01T00:00:00Z").sentence()).startsWith("there was no such job yet");
        assertThat(why("9999-12-31T23:59:59Z").outcome()).isEqualTo("no-occurrence");
        assertThat(why("2026-11-29 06:00").at()).isEqualTo("2026-11-29T06:00:00Z");
        assertThatThrownBy(() -> why("yesterday"))
                .hasMessageContaining(
                        "an instant such as 2026-11-26T02:30:00Z would be right, or a local time of UTC such");
        assertThatThrownBy(() ->
                        service.getBean(ScheduleWhy.class).why(SERVICE, "tick", "oftn", "1970-01-01", clock.instant()))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("often");
    }
}
