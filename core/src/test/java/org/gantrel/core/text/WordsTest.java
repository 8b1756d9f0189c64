package org.gantrel.core.text;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.ZoneId;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("In plain English")
class WordsTest {

    @ParameterizedTest(name = "{0} bytes are {1}")
    @CsvSource({
        "0, 0 bytes",
        "999, 999 bytes",
        "500000, 500 kB",
        "1000000000, 1 GB",
        "82666123456, 82.6 GB",
        "4999999999, 4.9 GB",
        "123456789012345, 123 TB",
        "9223372036854775807, 9.2 EB"
    })
    void sizesAreNeverSaidLarger(long bytes, String words) {
        assertThat(Words.bytes(bytes)).isEqualTo(words);
    }

    @Test
    @DisplayName("a moment is said with its zone")
    void aMomentHasItsZone() {
        assertThat(Words.moment(Instant.parse("2026-11-24T00:45:00Z"), ZoneId.of("Europe/Oslo")))
                .isEqualTo("Tue 24 Nov 01:45 (Europe/Oslo)");
    }
}
