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
import org.gantrel.core.text.SafePattern;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The parameters of a job")
class ParametersTest {

    private static final PlannedTime PLANNED =
            new PlannedTime(Instant.parse("2026-11-23T23:30:00Z"), ZoneId.of("Europe/Oslo"));

    private static final Parameters PARAMETERS = new Parameters(List.of(
            parameter("day", ParameterType.DATE, "${planned.date - days(1)}"),
            new Parameter(
                    "route",
                    ParameterType.CHOICE,
                    Optional.empty(),
                    Allowed.of(List.of("skarholm", "sound")),
                    "",
                    false),
            parameter("limit", ParameterType.NUMBER, "10"),
            parameter("dry", ParameterType.YES_NO, "no"),
            parameter("note", ParameterType.TEXT, "")));

    private static Parameter parameter(String name, ParameterType type, String fallback) {
        return new Parameter(name, type, Optional.of(fallback), Allowed.ANY, "", false);
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
    @DisplayName("say what their defaults are for a start at some time, and what day that is")
    void sayTheirDefaults() {
        assertThat(PARAMETERS.defaultsAt(PLANNED))
                .containsEntry("day", new Parameters.Default("2026-11-23", "the day before"))
                .containsEntry("limit", new Parameters.Default("10", ""))
                .doesNotContainKey("route");
        assertThat(new Parameters(List.of(
                                parameter("from", ParameterType.DATE, "${planned.date}"),
                                parameter("until", ParameterType.DATE, "${planned.date + days(3)}"),
                                parameter("fixed", ParameterType.DATE, "2026-01-01"),
                                parameter("wrong", ParameterType.NUMBER, "${planned.date}"),
                                parameter("after", ParameterType.TEXT, "since ${from}")))
                        .defaultsAt(PLANNED))
                .containsExactly(
                        Map.entry("from", new Parameters.Default("2026-11-24", "the day of the start")),
                        Map.entry("until", new Parameters.Default("2026-11-27", "3 days after")),
                        Map.entry("fixed", new Parameters.Default("2026-01-01", "")),
                        Map.entry("after", new Parameters.Default("since 2026-11-24", "")));
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
    @DisplayName("are refused where matching their values would keep others waiting")
    void areMatchedWithinBounds() {
        var parameters = new Parameters(List.of(
                allowed("plain", ParameterType.TEXT, matching("[a-z]*")),
                allowed("heavy", ParameterType.TEXT, matching("[a-z]{0,900}[a-z]*"))));
        String lengthy = "a".repeat(10_000);
        assertThat(parameters.resolve(Map.of("plain", lengthy, "heavy", "sound"), PLANNED))
                .containsEntry("plain", lengthy);
        assertThatThrownBy(() -> parameters.resolve(Map.of("plain", "", "heavy", lengthy), PLANNED))
                .hasMessageContaining("too long for the patterns that they must match");
    }

    @Test
    @DisplayName("take only what is listed, what matches, or what is within a range")
    void takeOnlyWhatIsAllowed() {
        var parameters = new Parameters(List.of(
                allowed("routes", ParameterType.LIST, Allowed.of(List.of("skarholm", "sound"))),
                allowed("code", ParameterType.TEXT, matching("[A-Z]{3}")),
                allowed("pause", ParameterType.DURATION, between("PT1M", "PT2H")),
                allowed("at", ParameterType.TIME, between("06:00", "22:00")),
                allowed(
                        "seats",
                        ParameterType.NUMBER,
                        new Allowed(List.of(), Optional.empty(), Optional.of("1"), Optional.empty()))));
        assertThat(parameters.resolve(
                        Map.of(
                                "routes",
                                "sound, skarholm",
                                "code",
                                "LOW",
                                "pause",
                                "PT90M",
                                "at",
                                "06:00",
                                "seats",
                                "10"),
                        PLANNED))
                .containsEntry("routes", "sound,skarholm")
                .containsEntry("pause", "PT1H30M");
        assertThatThrownBy(() -> parameters.resolve(
                        Map.of("routes", "sound,sund", "code", "low", "pause", "P1D", "at", "23:10", "seats", "0"),
                        PLANNED))
                .isInstanceOfSatisfying(InvalidException.class, e -> assertThat(e.problems())
                        .extracting(problem -> problem.field() + ": " + problem.message())
                        .containsExactly(
                                "routes: 'sund' is not one of skarholm and sound; did you mean 'sound'?",
                                "code: 'low' does not match the pattern [A-Z]{3}",
                                "pause: 'PT24H' is not from PT1M to PT2H",
                                "at: '23:10' is not from 06:00 to 22:00",
                                "seats: '0' is not at least 1"));
    }

    private static Parameter allowed(String name, ParameterType type, Allowed allowed) {
        return new Parameter(name, type, Optional.empty(), allowed, "", true);
    }

    private static Allowed matching(String pattern) {
        return new Allowed(List.of(), Optional.of(SafePattern.of(pattern)), Optional.empty(), Optional.empty());
    }

    private static Allowed between(String least, String most) {
        return new Allowed(List.of(), Optional.empty(), Optional.of(least), Optional.of(most));
    }

    @Test
    @DisplayName("speak of those before them, may be left out, and are asked for at a start by hand")
    void speakOfThoseBefore() {
        var parameters = new Parameters(List.of(
                new Parameter("day", ParameterType.DATE, Optional.of("${planned.date}"), Allowed.ANY, "", true),
                parameter("file", ParameterType.PATH, "/srv/sales-${day}.csv"),
                parameter("until", ParameterType.DATE, "")));
        assertThat(parameters.resolve(Map.of("day", "2026-02-03"), PLANNED))
                .containsEntry("file", "/srv/sales-2026-02-03.csv")
                .containsEntry("until", "");
        assertThat(parameters.unasked(Map.of()))
                .extracting(problem -> problem.field() + " " + problem.message())
                .containsExactly("day is asked for at every start by hand; a date such as 2026-11-23 is needed");
        assertThat(parameters.unasked(Map.of("day", "2026-02-03"))).isEmpty();
    }

    @Test
    @DisplayName("never show a wrong secret in a message")
    void neverShowASecret() {
        var secret = new Parameters(List.of(Parameter.of("key", ParameterType.SECRET)));
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
