package org.gantrel.service.forecast;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.schedule.Schedules;
import org.gantrel.service.schedule.Schedules.Coming;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A forecast")
class ForecastsTest {

    private static final Instant NIGHT = Instant.parse("2026-12-24T01:00:00Z");
    private static final Instant MORNING = Instant.parse("2026-12-24T07:00:00Z");
    private static final int PLACES = Settings.usual(Path.of("x")).limits().runsAtOnce();

    private final Schedules schedules = mock(Schedules.class);
    private final RunFacts facts = mock(RunFacts.class);
    private final Forecasts forecasts = new Forecasts(schedules, facts, Settings.usual(Path.of("x")));

    @BeforeEach
    void usuallyTenMinutes() {
        when(facts.usual(anyLong())).thenReturn(Optional.of(Duration.ofMinutes(10)));
    }

    private void coming(Coming... starts) {
        when(schedules.coming(any(), any(), any(), anyInt())).thenReturn(List.of(starts));
    }

    private static Coming start(String job, String team, int minutes) {
        return new Coming(
                job.hashCode(), job, job.hashCode(), team, "s", "UTC", NIGHT.plus(Duration.ofMinutes(minutes)));
    }

    private Forecast forecast(Optional<String> team, Optional<String> job) {
        return forecasts.between(Caller.service(), NIGHT, MORNING, team, job);
    }

    @Test
    @DisplayName("says when each start will probably end, as far as that is known")
    void saysWhenEachEnds() {
        when(facts.usual("fresh".hashCode())).thenReturn(Optional.empty());
        coming(start("settle", "revenue", 30), start("fresh", "revenue", 31));
        Forecast found = forecast(Optional.empty(), Optional.empty());
        assertThat(found.starts().get(0).ends()).isEqualTo(NIGHT.plus(Duration.ofMinutes(40)));
        assertThat(found.starts().get(1).ends()).isNull();
        assertThat(found.cut()).isFalse();
    }

    @Test
    @DisplayName("of a team or a job shows theirs alone, and counts everybody's when it looks for crowds")
    void countsEverybody() {
        Coming[] all = IntStream.range(0, PLACES + 2)
                .mapToObj(i -> start("job-" + i, i % 2 == 0 ? "revenue" : "fleet", i / 4))
                .toArray(Coming[]::new);
        coming(all);
        assertThat(forecast(Optional.of("fleet"), Optional.empty()).starts())
                .allMatch(start -> start.team().equals("fleet"))
                .hasSize((PLACES + 2) / 2);
        Forecast one = forecast(Optional.empty(), Optional.of("job-1"));
        assertThat(one.starts()).hasSize(1);
        assertThat(one.crowded())
                .containsExactly(new Forecast.Crowd(
                        NIGHT.plus(Duration.ofMinutes(PLACES / 4)),
                        NIGHT.plus(Duration.ofMinutes(10)),
                        PLACES + 2,
                        PLACES));
    }

    @Test
    @DisplayName("sees no crowd where one ends as the next begins")
    void noCrowdWhereTheyFollow() {
        coming(IntStream.range(0, 20)
                .mapToObj(i -> start("job-" + i, "revenue", i * 10))
                .toArray(Coming[]::new));
        assertThat(forecast(Optional.empty(), Optional.empty()).crowded()).isEmpty();
    }
}
