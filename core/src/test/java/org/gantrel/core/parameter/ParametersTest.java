package org.gantrel.core.parameter;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.expression.Template;
import org.gantrel.core.problem.InvalidException;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The parameters of a job")
class ParametersTest {

    private static final PlannedTime PLANNED =
            new PlannedTime(Instant.parse("2026-11-23T23:30:00Z"), ZoneId.of("Europe/Oslo"));

    private static final Parameters PARAMETERS = new Parameters(List.of(
            parameter("day", ParameterType.DATE, "${planned.date - days(1)}"),
            new Parameter("route", ParameterType.CHOICE, Optional.empty(), List.of("skarholm", "sound"), ""),
            parameter("limit", ParameterType.NUMBER, "10"),
            parameter("dry", ParameterType.YES_NO, "no"),
            parameter("note", ParameterType.TEXT, "")));

    private static Parameter parameter(String name, ParameterType type, String fallback) {
        return new Parameter(name, type, Optional.of(fallback), List.of(), "");
    }

    @Test
    @DisplayName("take their defaults from the planned day of the schedule's zone, not from the clock")
    void takeDefaultsFromThePlannedDay() {
        assertThat(PARAMETERS.resolve(Map.of("route", "sound"), PLANNED))
                .containsExactly(
                        Map.entry("day", "2026-11-23"),
                        Map.entry("route", "sound"),
                        Map.entry("limit", "10"),
                        Map.entry("dry", "no"),
                        Map.entry("note", ""));
    }

    @Test
    @DisplayName("bring values into one form")
    void bringValuesIntoOneForm() {
        assertThat(PARAMETERS.resolve(
                        Map.of("route", "sound", "dry", "TRUE", "limit", " +12.50", "day", "2026-01-02"), PLANNED))
                .containsEntry("dry", "yes")
                .containsEntry("limit", "12.50")
                .containsEntry("day", "2026-01-02");
    }

    @Test
    @DisplayName("refuse unknown, missing and wrong values all at once, with what would be right")
    void refuseAllAtOnce() {
        assertThatThrownBy(() -> PARAMETERS.resolve(
                        Map.of("rout", "x", "day", "23.11.2026", "limit", "many", "dry", "perhaps"), PLANNED))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .extracting(problem -> problem.field() + ": " + problem.message())
                        .containsExactlyInAnyOrder(
                                "rout: there is no such parameter; did you mean 'route'?",
                                "day: '23.11.2026' is not a date such as 2026-11-23",
                                "route: no value is given; one of the listed values is needed: skarholm, sound",
                                "limit: 'many' is not a number such as 12 or 0.5",
                                "dry: 'perhaps' is not yes or no"));
        assertThatThrownBy(() -> PARAMETERS.resolve(Map.of("route", "skarhol"), PLANNED))
                .hasMessage("route: 'skarhol' is not one of skarholm and sound; did you mean 'skarholm'?");
        assertThatThrownBy(() -> PARAMETERS.resolve(Map.of("route", "sound", "note", "x".repeat(10_001)), PLANNED))
                .hasMessage("note: too long: 10001 characters, at most 10000");
    }

    @Test
    @DisplayName("never show a wrong secret in a message")
    void neverShowASecret() {
        var secret =
                new Parameters(List.of(new Parameter("key", ParameterType.SECRET, Optional.empty(), List.of(), "")));
        assertThatThrownBy(() -> secret.resolve(Map.of("key", "hush\0hush"), PLANNED))
                .hasMessageContaining("the value is not")
                .hasMessageNotContaining("hush");
    }

    @Test
    @DisplayName("reach a text as expressions, which are checked before they are needed")
    void reachATextAsExpressions() {
        Map<String, String> values = Map.of("day", "2026-11-23", "route", "sound");
        assertThat(Template.of("--day=${day} ${route + '!'} ${planned.date} $${day}")
                        .fill(values, PLANNED))
                .isEqualTo("--day=2026-11-23 sound! 2026-11-24 ${day}");
        assertThatThrownBy(() -> Template.of("${rout}").check(values.keySet()))
                .isInstanceOf(ExpressionException.class)
                .hasMessageContaining("'${rout}', column 1");
        assertThatThrownBy(() -> Template.of("${day - 1}").check(values.keySet()))
                .hasMessageContaining("column 5");
    }
}
