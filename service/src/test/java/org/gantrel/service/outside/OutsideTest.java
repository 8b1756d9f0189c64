package org.gantrel.service.outside;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Role;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.outside.OutsideApi.BeganBody;
import org.gantrel.service.outside.OutsideApi.EndedBody;
import org.gantrel.service.outside.OutsideApi.ProgressBody;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunProgress;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("Work that others do")
class OutsideTest {

    private static final MovableClock CLOCK = new MovableClock(Instant.parse("2026-11-23T11:00:00Z"));
    private static final Caller VIEWER = new Caller("vera", "Vera", false, Map.of("revenue", Role.VIEWER));

    @TempDir
    static Path folder;

    private static LiveService service;
    private static Caller olga;

    @BeforeAll
    static void open() {
        service = LiveService.fresh(folder, CLOCK);
        Teams teams = service.bean(Teams.class);
        teams.createPerson(LiveService.SERVICE, "olga", "Olga", "quiet-harbour-42", false);
        teams.setRole(LiveService.SERVICE, "revenue", "olga", Role.OPERATOR);
        olga = teams.callerNamed("olga").orElseThrow();
        for (String name : List.of("copy", "lost", "slow", "early")) {
            service.define(
                    "task: " + name + "\nteam: revenue\ndoes: outside\ntime-limit: 2 h\ngives: { files: number }\n");
        }
    }

    @AfterAll
    static void close() {
        service.close();
    }

    private static OutsideApi api() {
        return service.bean(OutsideApi.class);
    }

    private static EndedBody ended(Long run, int code, String message) {
        return new EndedBody(run, code, null, message, List.of("first", "last"), Map.of("files", "12"));
    }

    private static Run running(long number) {
        Await.until(
                "run " + number + " is under way", () -> service.found(number).state() == RunState.RUNNING);
        return service.found(number);
    }

    @Test
    @DisplayName("is followed from its start to its end, over a restart, and once for a key")
    void isFollowed() throws IOException {
        long number = api().start(olga, "copy", null, "k1").run();
        assertThat(api().start(olga, "copy", new BeganBody(null, null), "k1").run())
                .isEqualTo(number);
        running(number);
        api().progress(olga, "copy", new ProgressBody(null, 0.4, "4 of 10"));
        assertThat(service.bean(RunProgress.class).of(number).orElseThrow().text())
                .isEqualTo("4 of 10");
        service.restart();
        assertThat(service.found(number).state()).isEqualTo(RunState.RUNNING);
        assertThatThrownBy(() -> api().start(VIEWER, "copy", null, null)).hasMessageContaining("operator");
        api().end(olga, "copy", ended(null, 0, "done"), null);
        Run run = service.ended(service.found(number));
        assertThat(run.state()).isEqualTo(RunState.SUCCEEDED);
        assertThat(run.results()).containsEntry("files", "12");
        assertThat(api().end(olga, "copy", ended(number, 0, ""), null).note()).contains("had ended before");
    }

    @Test
    @DisplayName("fails with its exit code, and counts as begun where only its end is told")
    void fails() {
        long number = api().end(olga, "early", ended(null, 3, "no space"), "e1").run();
        Run run = service.ended(service.found(number));
        assertThat(run.state()).isEqualTo(RunState.FAILED);
        assertThat(run.exitCode()).contains(3);
        assertThat(run.message()).contains("exit code 3: no space");
        assertThat(api().end(olga, "early", ended(null, 3, "no space"), "e1").run())
                .isEqualTo(number);
        assertThatThrownBy(() -> api().end(olga, "early", new EndedBody(null, null, "god", null, null, null), null))
                .hasMessageContaining("succeeded, warned or failed");
        assertThatThrownBy(() -> api().progress(olga, "early", new ProgressBody(null, 2.0, "")))
                .hasMessageContaining("from 0 to 1");
        service.task("own", "true", "");
        assertThatThrownBy(() -> api().start(olga, "own", null, null)).hasMessageContaining("does: outside");
        assertThatThrownBy(() ->
                        service.define("task: no\nteam: revenue\ndoes: outside\nretry: { tries: 3, wait: 1 min }\n"))
                .hasMessageContaining("no place here");
    }

    @Test
    @DisplayName("takes the end of a run whose start nobody told, and never for that of somebody else's run")
    void endsItsOwn() {
        Run due = service.start("early");
        assertThat(api().end(olga, "early", ended(due.number(), 0, ""), null).run())
                .isEqualTo(due.number());
        assertThat(service.ended(due).state()).isEqualTo(RunState.SUCCEEDED);
        long theirs = api().start(olga, "early", null, "theirs").run();
        running(theirs);
        // its start was not heard, and another machine's run is the only one under way
        long mine = api().end(olga, "early", ended(null, 0, ""), "mine").run();
        assertThat(mine).isNotEqualTo(theirs);
        assertThat(service.found(theirs).state()).isEqualTo(RunState.RUNNING);
        var much = Map.of("a", "\u0001".repeat(4_000));
        assertThatThrownBy(() -> api().end(olga, "early", new EndedBody(theirs, 0, null, "", List.of(), much), null))
                .hasMessageContaining("15000 characters");
        api().end(olga, "early", ended(null, 0, ""), "theirs");
        assertThat(service.ended(service.found(theirs)).state()).isEqualTo(RunState.SUCCEEDED);
    }

    @Test
    @DisplayName("is missed where its start is not told in time; the run that waits is the one that is told of")
    void isMissed() {
        Run missed = service.start("lost");
        CLOCK.moveBy(Duration.ofMinutes(5));
        service.bean(Waker.class).wake();
        assertThat(service.found(missed.number()).state()).isEqualTo(RunState.WAITING);
        CLOCK.moveBy(Duration.ofMinutes(6));
        service.bean(Waker.class).wake();
        missed = service.ended(missed);
        assertThat(missed.state()).isEqualTo(RunState.MISSED);
        assertThat(missed.message()).contains("nobody told of its start within 10 min");
        // the run that waits is the one that is told of
        Run due = service.start("slow");
        long number = api().start(olga, "slow", null, null).run();
        assertThat(number).isEqualTo(due.number());
        running(number);
        assertThatThrownBy(() -> api().start(olga, "slow", new BeganBody(number, null), null))
                .hasMessageContaining("not one that waits");
    }
}
