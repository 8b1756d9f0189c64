package org.gantrel.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.StepFacts.Fact;
import org.gantrel.core.expression.StepFacts.Shape;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The results of earlier steps")
class StepFactsTest {

    private static final Instant NIGHT = Instant.parse("2026-11-24T01:30:00Z");

    private static final Map<String, Fact> KNOWN = Map.of(
            "settle",
            new Fact(
                    "succeeded",
                    Optional.of(41L),
                    Optional.of(0),
                    Optional.of(NIGHT),
                    Optional.of(NIGHT.plusSeconds(90)),
                    Map.of(
                            "total",
                            "12",
                            "share",
                            "0.25",
                            "route",
                            "sound",
                            "clean",
                            "true",
                            "code",
                            "007",
                            "open-days",
                            "3"),
                    Map.of("code", ValueKind.TEXT)),
            "hold",
            Fact.of("out-of-reach"));

    private static final Bindings BINDINGS = new Bindings(
                    Map.of("day", "2026-11-23"), new PlannedTime(NIGHT, ZoneId.of("Europe/Oslo")))
            .after(alias -> Optional.ofNullable(KNOWN.get(alias)));

    @ParameterizedTest(name = "{0} is {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "settle.values.total > 0             | true",
                "settle.values.total == 12           | true",
                "settle.values.total >= 12.5         | false",
                "settle.values.share < 1             | true",
                "settle.values.route == 'sound'      | true",
                "settle.values.clean                 | true",
                "settle.values.code == '007'         | true",
                "settle.values['open-days'] == 3     | true",
                "settle.exit_code == 0 && day < '2027-01-01' | true",
                "settle.ended - settle.started > duration('1m') | true",
                "hold.state == 'out-of-reach'        | true",
                "'refunds' in settle.values          | false",
            })
    void decide(String condition, boolean holds) {
        assertThatCode(() -> Template.checkCondition(condition, List.of("day"), alias -> Optional.of(Shape.ANY)))
                .doesNotThrowAnyException();
        assertThat(BINDINGS.holds(condition)).isEqualTo(holds);
    }

    @Test
    @DisplayName("fill texts as they were given")
    void fill() {
        assertThat(
                        BINDINGS.fill(
                                "${settle.values.total} of ${settle.values.open-days} in run ${settle.run} on ${day}, ${hold.state}"))
                .isEqualTo("12 of 3 in run 41 on 2026-11-23, out-of-reach");
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "settle.values.totl > 0    | totl",
                "hold.values.total > 0     | total",
                "hold.run > 0              | hold.run",
                "settle.values.route       | not true or false",
                "other.state == 'failed'   | other"
            })
    void areSaidToBeMissing(String condition, String what) {
        assertThatThrownBy(() -> BINDINGS.holds(condition))
                .isInstanceOf(ExpressionException.class)
                .hasMessageContaining(what);
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '`',
            value = {
                "settle.values.totl > 0              | nothing is known as 'settle.values.totl'; did you mean 'settle.values.total'?",
                "settle.values.route > 3             | '>' does not go with text and number; int(...) makes",
                "settle.values.clean == 'yes'        | '==' does not go with yes or no and text",
                "settle.stat == 'failed'             | nothing is known as 'settle.stat'"
            })
    void areCheckedAgainstWhatAJobGives(String condition, String message) {
        var gives = new Shape(
                Optional.of(Map.of("total", ValueKind.NUMBER, "route", ValueKind.TEXT, "clean", ValueKind.YES_NO)));
        StepFacts.Shapes shapes = alias -> alias.equals("settle") ? Optional.of(gives) : Optional.empty();
        assertThatCode(() ->
                        Template.checkCondition("settle.values.total > 3 && settle.values.clean", List.of(), shapes))
                .doesNotThrowAnyException();
        assertThatThrownBy(() -> Template.checkCondition(condition, List.of(), shapes))
                .isInstanceOf(ExpressionException.class)
                .hasMessageContaining(message);
    }
}
