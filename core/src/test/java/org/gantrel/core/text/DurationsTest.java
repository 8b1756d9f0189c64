package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A duration")
class DurationsTest {

    @ParameterizedTest(name = "{0} is {1}")
    @CsvSource({
        "90 s, PT1M30S",
        "30 min, PT30M",
        "1 h 30 min, PT1H30M",
        "1h30min, PT1H30M",
        "2 days, PT48H",
        "0.5 s, PT0.5S",
        "400 days, PT9600H",
        "PT30M, PT30M",
        "P2D, PT48H"
    })
    void isReadAsPeopleWriteIt(String text, Duration duration) {
        assertThat(Durations.parse(text)).contains(duration);
    }

    @ParameterizedTest(name = "{0} is none")
    @CsvSource({"soon", "''", "5", "5 fortnights", "half an hour", "-5 s", "PT-5S", "5 s!", "s 5"})
    void isNotWhatItIsNot(String text) {
        assertThat(Durations.parse(text)).isEmpty();
    }
}
