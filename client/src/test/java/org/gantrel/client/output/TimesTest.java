package org.gantrel.client.output;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import org.gantrel.client.Wrong;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("Times at the command line")
class TimesTest {

    @ParameterizedTest(name = "{0} is {1} ago")
    @CsvSource({"90s, PT90S", "90m, PT90M", "12h, PT12H", "1d, P1D", "2w, P14D", "3D, P3D"})
    void areReadAsAgo(String text, Duration ago) {
        assertThat(Times.since(text)).isCloseTo(Instant.now().minus(ago), within(2, ChronoUnit.SECONDS));
    }

    @Test
    @DisplayName("are read as an instant or a date")
    void areReadAsInstants() {
        assertThat(Times.since("2026-11-23T06:00:00Z")).isEqualTo("2026-11-23T06:00:00Z");
        assertThat(Times.since("2026-11-23T06:00:00.123456789Z")).isEqualTo("2026-11-23T06:00:00.123456789Z");
        assertThat(Times.since("2026-11-23T06:00+01:00")).isEqualTo("2026-11-23T05:00:00Z");
        assertThat(Times.since("2026-11-23T06:00:30"))
                .isEqualTo(LocalDateTime.parse("2026-11-23T06:00:30")
                        .atZone(ZoneId.systemDefault())
                        .toInstant());
        assertThat(Times.since("2026-11-23 06:00")).isEqualTo(Times.since("2026-11-23T06:00"));
        assertThat(Times.since("2026-11-23 06:00:30 Europe/Oslo")).isEqualTo("2026-11-23T05:00:30Z");
        assertThat(Times.since("2026-11-23 06:00 +02:00")).isEqualTo("2026-11-23T04:00:00Z");
        assertThat(Times.since("2026-11-23")).isBetween("2026-11-22T10:00:00Z", "2026-11-23T12:00:00Z");
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "yesterday",
                "1x",
                "2026-13-01",
                "",
                "-1d",
                "2026-11-23 6:00",
                "2026-11-23 06:00 Europe/Nowhere",
                "2026-02-30 06:00",
                "2026-02-30",
                "2026-11-23T25:00",
                "2026-11-23T06:00Z and more"
            })
    @DisplayName("that are neither say what would be right")
    void thatAreNeither(String text) {
        assertThatThrownBy(() -> Times.since(text)).isInstanceOf(Wrong.class).hasMessageContaining("90m, 12h, 1d");
    }

    @ParameterizedTest
    @ValueSource(strings = {"Europe/Oslo", "UTC", "America/New_York", "Australia/Lord_Howe", "Asia/Kathmandu"})
    @DisplayName("are read as they are printed, in the hour that comes twice too")
    void areReadAsPrinted(ZoneId zone) {
        Instant first = Instant.parse("2026-01-01T00:10:00Z");
        for (int i = 0; i < 2 * 24 * 366; i++) {
            Instant at = first.plus(Duration.ofMinutes(30L * i));
            assertThat(Times.since(Times.printed(at, zone), zone)).isEqualTo(at);
        }
    }

    @Test
    @DisplayName("are nothing where a row has none")
    void areNothing() {
        var row = new JsonMapper().readTree("{\"took\":\"PT1M5S\"}");
        assertThat(Times.local(row, "startedAt")).isEmpty();
        assertThat(Times.duration(row, "usual")).isEmpty();
        assertThat(Times.duration(row, "took")).isEqualTo("1 min 5 s");
        assertThat(Column.duration("TOOK", "took").plain().apply(row)).isEqualTo("PT1M5S");
    }
}
