package org.gantrel.core.when;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.ZoneId;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A phrase")
class PhraseTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");

    @ParameterizedTest(name = "{0}: {1}, first at {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "every day at 02:30                | every day at 02:30                  | 2026-11-24T01:30:00Z",
                "EVERY Day at 2:30                 | every day at 02:30                  | 2026-11-24T01:30:00Z",
                "every day at 18:00 and 06:00      | every day at 06:00 and 18:00        | 2026-11-23T17:00:00Z",
                "every weekday at 06:45            | every weekday at 06:45              | 2026-11-24T05:45:00Z",
                "every weekend at 9:00             | every weekend day at 09:00          | 2026-11-28T08:00:00Z",
                "every mon, wed and friday at 07:00| every Monday, Wednesday and Friday at 07:00 | 2026-11-25T06:00:00Z",
                "every 15 minutes                  | every 15 minutes                    | 2026-11-23T12:15:00Z",
                "every minute                      | every minute                        | 2026-11-23T12:01:00Z",
                "every 2 hours                     | every 2 hours                       | 2026-11-23T13:00:00Z"
            })
    void isUnderstood(String written, String phrase, Instant first) {
        Timetable timetable = When.parse(written.strip());
        assertThat(timetable.phrase()).isEqualTo(phrase);
        assertThat(timetable.kind()).isEqualTo(Timetable.Kind.PHRASE);
        assertThat(timetable.next(Instant.parse("2026-11-23T12:00:00Z"), OSLO)).contains(first);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "every day at 06:00 and 18:00", "every weekday at 06:45", "every weekend day at 09:00",
                "every Monday, Wednesday and Friday at 07:00", "every 15 minutes", "every hour"
            })
    @DisplayName("that was printed reads as the same phrase")
    void printsWhatItReads(String phrase) {
        assertThat(When.parse(phrase).phrase()).isEqualTo(phrase);
    }

    @Test
    @DisplayName("of minutes goes on evenly through the hour that autumn repeats")
    void goesOnThroughAutumn() {
        Timetable timetable = When.parse("every 45 minutes");
        assertThat(timetable.next(Instant.parse("2026-10-25T00:00:00Z"), OSLO, 3))
                .containsExactly(
                        Instant.parse("2026-10-25T00:15:00Z"),
                        Instant.parse("2026-10-25T01:00:00Z"),
                        Instant.parse("2026-10-25T01:45:00Z"));
    }

    @ParameterizedTest(name = "{0}: column {1}, {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "evry day at 02:30      | 1  | 'evry': 'every' is expected; did you mean 'every'?",
                "every daay at 02:30    | 7  | 'daay': a day is expected: 'day', 'weekday', 'weekend' or a name such as 'Monday'; did you mean 'day'?",
                "every day at           | 13 | the phrase ends where a time such as 02:30 is expected",
                "every day at 24:30     | 14 | '24:30': 00:00 to 23:59 would be right",
                "every day at 2.30      | 14 | '2.30': a time such as 02:30 is expected",
                "every 0 minutes        | 7  | 0 minutes: 1 to 1440 would be right",
                "every 5 minuts         | 9  | 'minuts': 'minutes' or 'hours' is expected; did you mean 'minutes'?",
                "every day at 02:30 now | 20 | 'now': the phrase was complete before it"
            })
    void thatIsWrongSaysWhereAndWhatWouldBeRight(String written, int column, String message) {
        assertThatThrownBy(() -> When.parse(written.strip())).isInstanceOfSatisfying(WhenException.class, wrong -> {
            assertThat(wrong.getMessage()).isEqualTo(message);
            assertThat(wrong.column()).isEqualTo(column);
        });
    }

    @Test
    @DisplayName("of 10,000 characters is refused before it is read")
    void ofGreatLengthIsRefused() {
        assertThatThrownBy(() -> When.parse("every " + "x".repeat(10_000)))
                .hasMessageContaining("too long: at most 400");
        assertThatThrownBy(() -> When.parse("  ")).hasMessageContaining("nothing is written");
    }
}
