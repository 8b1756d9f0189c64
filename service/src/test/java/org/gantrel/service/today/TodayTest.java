package org.gantrel.service.today;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Wishes;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("Today")
class TodayTest {

    private static final Instant MORNING = Instant.parse("2026-11-23T06:00:00Z");

    @TempDir
    Path folder;

    private final MovableClock clock = new MovableClock(MORNING);
    private LiveService service;

    @BeforeEach
    void open() {
        service = LiveService.fresh(folder.resolve("data"), clock);
        define("settle", "while-running: 2");
    }

    @AfterEach
    void close() {
        service.close();
    }

    /** A chain that goes until somebody says how it ends: the ends of commands are dated by the clock of the machine. */
    private void define(String name, String more) {
        service.define("chain: " + name + "\nteam: revenue\nsteps:\n  - { step: ask, approval: { by: { team: revenue,"
                + " role: manager }, asks: \"Well?\" } }\n" + more + "\n");
    }

    private Run start(String job) {
        return begun(service.start(job));
    }

    private Run begun(Run run) {
        Await.until("run " + run.number() + " asks", () -> service.bean(Journal.class).of(run.number(), 50).stream()
                .anyMatch(event -> event.type().equals("gantrel.approval.asked")));
        return service.found(run.number());
    }

    private Run end(Run run, boolean well) {
        clock.moveBy(Duration.ofMinutes(1));
        String details = service.bean(RunValues.class).sealAll(Map.of(" note", "", " approves", well ? "yes" : "no"));
        service.bean(Wishes.class).want(run.number(), Wishes.Kind.DECIDE, "ask", details, "mara", clock.instant());
        return service.ended(run);
    }

    private List<Long> attention() {
        return today().attention().stream().map(each -> each.run().number()).toList();
    }

    private TodayView today() {
        return service.bean(TodayApi.class).today(LiveService.SERVICE, "UTC", "midnight");
    }

    private List<Long> board(Instant from, Instant until) {
        return service.bean(TodayApi.class).board(LiveService.SERVICE, from, until).rows().stream()
                .flatMap(row -> row.runs().stream())
                .map(TodayView.Bar::number)
                .toList();
    }

    @Test
    @DisplayName(
            "has what ended last and badly, however long before that it began, and whatever was skipped or cancelled since")
    void hasWhatEndedLast() {
        Run early = start("settle");
        Run later = start("settle");
        assertThat(end(later, true).state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(attention()).isEmpty();
        clock.moveBy(Duration.ofDays(3));
        assertThat(end(early, false).state()).isEqualTo(RunState.FAILED);
        assertThat(attention()).containsExactly(early.number());
        Run third = start("settle");
        clock.moveBy(Duration.ofMinutes(1));
        service.bean(Wishes.class).stop(third.number(), "mara", clock.instant());
        assertThat(service.ended(third).state()).isEqualTo(RunState.CANCELLED);
        assertThat(attention()).containsExactly(early.number());
        assertThat(today().attention().get(0).inARow()).isOne();
        Run bad = end(start("settle"), false);
        assertThat(attention()).containsExactly(bad.number());
        assertThat(today().attention().get(0).inARow()).isEqualTo(2);
        end(start("settle"), true);
        assertThat(attention()).isEmpty();
    }

    @Test
    @DisplayName(
            "is of the same mind as what is expected: of runs side by side that one was good last which ended last")
    void endedWellLast() {
        Run one = start("settle");
        Run two = start("settle");
        end(two, true);
        end(one, true);
        assertThat(service.bean(Runs.class).lastGood(one.jobId()))
                .map(Run::number)
                .hasValue(one.number());
    }

    @Test
    @DisplayName("says from when on the board has no more starts that are to come, where they are too many")
    void saysWhatIsMissing() {
        define("minutely", "schedules: [ { name: m, when: every minute, zone: UTC } ]");
        Instant noon = MORNING.plus(Duration.ofHours(6));
        TodayView.Board week =
                service.bean(TodayApi.class).board(LiveService.SERVICE, noon, noon.plus(Duration.ofDays(7)));
        assertThat(week.rows())
                .singleElement()
                .satisfies(row -> assertThat(row.coming()).startsWith(noon).hasSize(5_000));
        assertThat(week.comingUntil()).isEqualTo(noon.plus(Duration.ofMinutes(5_000)));
    }

    @Test
    @DisplayName("says how many starts are to come before midnight, as the board draws them")
    void saysWhatIsToCome() {
        define("hourly", "schedules: [ { name: h, when: every hour, zone: UTC } ]");
        TodayView today = today();
        assertThat(today.coming()).isEqualTo(17);
        assertThat(service.bean(TodayApi.class)
                        .board(LiveService.SERVICE, MORNING, today.until())
                        .rows())
                .singleElement()
                .satisfies(row -> assertThat(row.coming()).hasSize(17));
    }

    @Test
    @DisplayName(
            "draws all that reaches into a span: what began before it, what ends after it, and what waits since before")
    void drawsWhatReachesIn() {
        define("alone", "");
        Run over = end(start("settle"), true);
        clock.moveTo(MORNING.plus(Duration.ofHours(1)));
        Run into = start("settle");
        Run through = start("settle");
        Run goes = start("alone");
        Run waits = service.start("alone");
        Await.until(
                "it waits", () -> !service.found(waits.number()).waitingFor().isEmpty());
        clock.moveTo(MORNING.plus(Duration.ofHours(4)));
        end(into, true);
        clock.moveTo(MORNING.plus(Duration.ofHours(6)));
        end(through, true);
        Instant from = MORNING.plus(Duration.ofHours(3));
        Instant until = MORNING.plus(Duration.ofHours(5));
        System.out.println(
                over.startedAt() + " OVER " + service.found(over.number()).finishedAt());
        assertThat(board(from, until))
                .containsExactlyInAnyOrder(into.number(), through.number(), goes.number(), waits.number());
        assertThat(board(MORNING, from))
                .containsExactlyInAnyOrder(
                        over.number(), into.number(), through.number(), goes.number(), waits.number());
        assertThat(board(from.plus(Duration.ofDays(1)), until.plus(Duration.ofDays(1))))
                .isEmpty();
        end(goes, true);
        end(begun(waits), true);
        System.out.println(
                over.startedAt() + " OVER " + service.found(over.number()).finishedAt());
        assertThat(board(from, until))
                .containsExactlyInAnyOrder(into.number(), through.number(), goes.number(), waits.number());
        assertThat(board(until.plus(Duration.ofHours(3)), until.plus(Duration.ofHours(4))))
                .isEmpty();
    }

    @Test
    @DisplayName("has what holds, what holds now first, however many others there are and were since")
    void hasWhatHolds() {
        lay(600, 0, true);
        lay(1, 0, false);
        lay(1_900, 0, true);
        lay(70, 60, false);
        assertThat(today().holds()).hasSize(50).first().matches(TodayView.HeldNow::active);
        assertThat(today().moreHolds()).isEqualTo(21);
        Holds holds = service.bean(Holds.class);
        assertThat(holds.visible(LiveService.SERVICE)).hasSize(71);
        List<Hold> page =
                service.bean(TransactionTemplate.class).execute(status -> holds.ever(LiveService.SERVICE, 602, 700));
        assertThat(page).hasSize(601).first().matches(hold -> hold.id() == 601);
    }

    private void lay(int many, int inMinutes, boolean ended) {
        Holds holds = service.bean(Holds.class);
        Instant from = clock.instant().plus(Duration.ofMinutes(inMinutes));
        // a few in each transaction: all that it has written is looked through with each write
        for (int left = many; left > 0; left -= 50) {
            int some = Math.min(50, left);
            service.bean(TransactionTemplate.class).executeWithoutResult(status -> {
                for (int i = 0; i < some; i++) {
                    Hold wanted = Hold.wanted(Hold.Scope.JOB, "settle", from, Optional.empty(), "for a test", "mara");
                    long id = holds.lay(LiveService.SERVICE, wanted).id();
                    if (ended) {
                        holds.end(LiveService.SERVICE, id);
                    }
                }
            });
        }
    }
}
