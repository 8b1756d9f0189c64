package org.gantrel.service.forecast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.tuple;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.schedule.Schedules;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("A crowd of what is to come")
class CrowdAheadTest {

    private static final Instant NOON = Instant.parse("2026-11-28T12:00:00Z");

    @TempDir
    private Path folder;

    @Test
    @DisplayName("is counted job by job: one that comes each minute hides none that comes once a week")
    void countsJobs() {
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            for (String rule : List.of("every minute", "every 2 minutes", "every Friday at 04:00")) {
                service.task(
                        "j" + rule.toLowerCase(Locale.ROOT).replaceAll("[^a-z0-9]", ""),
                        "true",
                        "schedules: [ { name: s, when: " + rule + ", zone: UTC }, { name: t, when: " + rule
                                + ", zone: UTC, on: no } ]\n");
            }
            Schedules schedules = service.bean(Schedules.class);
            Instant until = NOON.plus(Duration.ofDays(7));
            assertThat(schedules.comingJobs(NOON, until, job -> true, 20, 11_000))
                    .extracting(Schedules.ComingJob::job, Schedules.ComingJob::starts)
                    .containsExactly(
                            tuple("jeveryminute", 10_080),
                            tuple("jevery2minutes", 5_040),
                            tuple("jeveryfridayat0400", 1));
            assertThat(schedules.comingJobs(NOON, until, job -> true, 2, 50))
                    .extracting(Schedules.ComingJob::starts)
                    .containsExactly(50, 50);
        }
    }

    @Test
    @DisplayName("says how far it was played where too much comes, and plays what has a deadline to the end")
    void hidesNoDeadline() {
        try (var service = LiveService.fresh(folder, new MovableClock(NOON))) {
            String crowd = IntStream.range(0, 30)
                    .mapToObj(i -> "{ name: s" + i + ", when: every minute, zone: UTC }")
                    .collect(Collectors.joining(", "));
            service.define("lane: shut\nteam: revenue\nwidth: 1\n");
            service.task("crowd", "true", "schedules: [ " + crowd + " ]\nwhile-running: 40\n");
            service.task(
                    "late",
                    "true",
                    "lanes: [ shut ]\nschedules: [ " + crowd + ", { name: night, when: every day at 06:00, zone: UTC,"
                            + " deadline: 2 h } ]\n");
            service.bean(TransactionTemplate.class).executeWithoutResult(status -> service.bean(Lanes.class)
                    .shut(LiveService.SERVICE, "shut", "for a test"));
            assertThat(service.bean(Deadlines.class).visible(LiveService.SERVICE))
                    .extracting(Deadlines.Deadline::schedule, Deadlines.Deadline::state)
                    .containsExactly(tuple("night", "at-risk"));
            Forecast day = service.bean(Forecasts.class)
                    .between(
                            LiveService.SERVICE,
                            NOON,
                            NOON.plus(Duration.ofHours(20)),
                            Optional.empty(),
                            Optional.empty(),
                            List.of());
            assertThat(day.cut()).isTrue();
            // 60 starts a minute
            assertThat(Duration.between(NOON, day.playedUntil()).toMinutes()).isBetween(330L, 335L);
        }
    }
}
