package org.gantrel.service.storm;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.LongStream;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import tools.jackson.databind.JsonNode;

/**
 * Several people change calendars, jobs, lanes, rosters, rules, holds and rights at the same time, while others look at all of it.
 * Nothing that the service keeps in mind may be older than what is written down: one that is started anew says the same,
 * and what comes due is what it says. {@code -Dgantrel.storms=20} has more of them.
 */
@DisplayName("After a storm of changes")
class StormTest {

    private static final Instant NIGHT = Instant.parse("2026-11-23T22:00:00Z");
    private static final Duration DAYS = Duration.ofDays(4);
    private static final int TIMES = 40;

    @TempDir
    Path folder;

    static LongStream seeds() {
        return LongStream.rangeClosed(1, Integer.getInteger("gantrel.storms", 1));
    }

    @ParameterizedTest
    @DisplayName("the service says what one says that is started anew, and starts what it says")
    @MethodSource("seeds")
    void saysTheSame(long seed) throws Exception {
        var clock = new MovableClock(NIGHT);
        try (LiveService service = LiveService.fresh(folder, clock)) {
            var storm = new Storm(service);
            storm.prepare();
            rage(storm, seed);
            assertThat(storm.wrong()).isEmpty();
            assertThat(storm.made()).as("changes that were made").isGreaterThan(TIMES);
            rests(service);
            Map<String, JsonNode> before = storm.look();
            service.restart();
            storm.signIn();
            rests(service);
            Map<String, JsonNode> anew = storm.look();
            Storm.PAGES.forEach(page -> assertThat(before.get(page))
                    .as("%s of storm %d", page, seed)
                    .isEqualTo(anew.get(page)));
            startsWhatItSays(service, clock);
        }
    }

    private static void startsWhatItSays(LiveService service, MovableClock clock) {
        Instant from = clock.instant();
        Instant until = from.plus(DAYS);
        List<String> said = service.bean(Schedules.class).coming(from, until, job -> true, 1_000).stream()
                .map(each -> each.job() + " at " + each.at())
                .sorted()
                .toList();
        clock.moveTo(until);
        service.bean(Waker.class).wake();
        Await.until("all is accounted for", () -> started(service, from, until).size() >= said.size());
        assertThat(started(service, from, until)).containsExactlyInAnyOrderElementsOf(said);
    }

    private static List<String> started(LiveService service, Instant from, Instant until) {
        List<Long> teams =
                service.bean(Teams.class).all().stream().map(Team::id).toList();
        return service.bean(Runs.class).planned(teams, from, until.plusMillis(1), 1_000).stream()
                .filter(run ->
                        run.cause() == CauseKind.SCHEDULE && run.plannedAt().isAfter(from))
                // of a day that its calendar does not have
                .filter(run -> run.state() != RunState.SKIPPED)
                .map(run -> run.jobName() + " at " + run.plannedAt())
                .toList();
    }

    private static void rage(Storm storm, long seed) throws InterruptedException {
        var all = new ArrayList<Thread>();
        for (int i = 0; i < 5; i++) {
            var random = new Random(seed * 100 + i);
            boolean changes = i < 3;
            all.add(new Thread(() -> {
                if (changes) {
                    storm.changes(random, TIMES);
                } else {
                    storm.looks(random, 2 * TIMES);
                }
            }));
        }
        all.forEach(Thread::start);
        for (Thread each : all) {
            each.join();
        }
    }

    /** Waits until nothing is under way. */
    private static void rests(LiveService service) {
        Runs runs = service.bean(Runs.class);
        Await.until("nothing is under way", () -> runs.underwayAll().isEmpty());
    }
}
