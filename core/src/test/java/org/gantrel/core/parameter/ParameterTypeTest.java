package org.gantrel.core.parameter;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A parameter's type")
class ParameterTypeTest {

    @ParameterizedTest(name = "{0} takes ''{1}'' as ''{2}''")
    @CsvSource({
        "number, 12, 12",
        "number, -0.50, -0.50",
        "number, +3, 3",
        "number, ' 7 ', 7",
        "number, 007, 7",
        "date, 2026-11-23, 2026-11-23",
        "date, ' 2028-02-29 ', 2028-02-29",
        "yes-no, yes, yes",
        "yes-no, True, yes",
        "yes-no, ON, yes",
        "yes-no, 1, yes",
        "yes-no, No, no",
        "yes-no, off, no",
        "time, 07:30, 07:30",
        "time, 23:59:30, 23:59:30",
        "date-time, 2026-11-23T07:30, 2026-11-23T07:30",
        "date-time, 2026-11-23 07:30, 2026-11-23T07:30",
        "date-time, 2026-11-23, 2026-11-23T00:00",
        "duration, PT90M, PT1H30M",
        "duration, P2D, PT48H",
        "list, ' a, b,,c ', 'a,b,c'",
        "list, '', ''",
        "path, ' /srv/tides/today.csv ', /srv/tides/today.csv",
        "text, ' as it is ', ' as it is '",
        "secret, ' as it is ', ' as it is '"
    })
    void takes(String type, String given, String kept) {
        assertThat(ParameterType.of(type).orElseThrow().read(given)).contains(kept);
    }

    @ParameterizedTest(name = "{0} refuses ''{1}''")
    @CsvSource({
        "number, twelve",
        "number, 1e5",
        "number, '1,5'",
        "number, .5",
        "number, ''",
        "number, 0x1F",
        "number, 99999999999999999999999999999999999999999",
        "date, 2026-02-29",
        "date, 2026-4-1",
        "date, 23.11.2026",
        "date, 2026-11-31",
        "date, today",
        "time, 25:00",
        "date-time, 2026-11-23T25:00",
        "duration, 90 minutes",
        "path, ''",
        "path, /srv/../etc/passwd",
        "path, ..",
        "yes-no, maybe",
        "yes-no, ''",
        "yes-no, 2"
    })
    void refuses(String type, String given) {
        assertThat(ParameterType.of(type).orElseThrow().read(given)).isEmpty();
    }

    @Test
    @DisplayName("has one word, by which it is found")
    void hasOneWord() {
        assertThat(ParameterType.words())
                .containsExactly(
                        "text",
                        "number",
                        "date",
                        "time",
                        "date-time",
                        "duration",
                        "list",
                        "path",
                        "choice",
                        "yes-no",
                        "secret");
        assertThat(ParameterType.of("yes_no")).isEmpty();
        assertThat(ParameterType.of("TEXT")).isEmpty();
    }

    @ParameterizedTest(name = "{0} has the bound {1}: {2}")
    @CsvSource({
        "number, 007, 7",
        "duration, PT60M, PT1H",
        "time, 07:30:00, 07:30",
        "date, 2026-11-23, 2026-11-23",
        "date-time, 2026-11-23, 2026-11-23T00:00",
        "number, many, ",
        "text, a, ",
        "list, 'a,b', ",
        "choice, a, ",
        "yes-no, yes, "
    })
    void hasABoundWhereItHasAnOrder(String type, String given, String bound) {
        ParameterType found = ParameterType.of(type).orElseThrow();
        assertThat(found.bound(given).orElse(null)).isEqualTo(bound);
        assertThat(found.isOrdered()).isEqualTo(bound != null || type.equals("number"));
    }

    @Test
    @DisplayName("that is a list is made of items, any other of itself")
    void isMadeOfItems() {
        assertThat(ParameterType.LIST.items("a,b,c")).containsExactly("a", "b", "c");
        assertThat(ParameterType.LIST.items("")).isEmpty();
        assertThat(ParameterType.TEXT.items("a,b")).containsExactly("a,b");
    }
}
