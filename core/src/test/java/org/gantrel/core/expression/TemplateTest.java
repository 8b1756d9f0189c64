package org.gantrel.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A text with expressions")
class TemplateTest {

    private static final Map<String, String> VALUES = Map.of("route", "sound", "limit", "12", "empty", "");
    private static final PlannedTime NEW_YEAR =
            new PlannedTime(Instant.parse("2026-12-31T23:30:00Z"), ZoneId.of("Europe/Oslo"));

    @ParameterizedTest(name = "{0} becomes {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "plain                                   | plain",
                "${route}                                | sound",
                "--route=${ route }/x                    | --route=sound/x",
                "[${empty}]                              | []",
                "${route}${limit}                        | sound12",
                "$${route} and $route                    | ${route} and $route",
                "${planned.date}                         | 2027-01-01",
                "${planned.date - days(1)}               | 2026-12-31",
                "${planned.date + days(59)}              | 2027-03-01",
                "${route == 'sound' ? 'ferry' : 'bus'}   | ferry",
                "${size(route)}                          | 5",
                "${int(limit) * 2}                       | 24",
                "${route.startsWith('s')}                | true"
            })
    void isFilled(String text, String filled) {
        assertThat(Template.of(text).fill(VALUES, NEW_YEAR)).isEqualTo(filled);
    }

    @ParameterizedTest(name = "{0} is refused: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "${route                | the '${' is not closed by a '}'",
                "${rout}                | undeclared reference to 'rout'",
                "${route + 1}           | found no matching overload",
                "${route +}             | column 8",
                "${days('x')}           | found no matching overload for 'days'",
                "${planned.time}        | undeclared reference"
            })
    void isRefused(String text, String message) {
        assertThatThrownBy(() -> Template.of(text).check(VALUES.keySet()))
                .isInstanceOf(ExpressionException.class)
                .hasMessageContaining(message);
    }

    @Test
    @DisplayName("that cannot be worked out with these values says so")
    void thatCannotBeWorkedOut() {
        assertThatCode(() -> Template.of("${int(route)}").check(List.of("route")))
                .doesNotThrowAnyException();
        assertThatThrownBy(() -> Template.of("${int(route)}").fill(VALUES, NEW_YEAR))
                .isInstanceOf(ExpressionException.class)
                .hasMessageContaining("'${int(route)}' cannot be worked out");
        assertThat(Template.of("$${x}").hasExpressions()).isFalse();
        assertThat(Template.of("${x}").hasExpressions()).isTrue();
    }
}
