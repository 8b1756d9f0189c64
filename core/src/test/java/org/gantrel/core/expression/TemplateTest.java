package org.gantrel.core.expression;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatCode;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import org.gantrel.core.when.DaySet;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A text with expressions")
class TemplateTest {

    private static final Map<String, String> VALUES = Map.of("route", "sound", "limit", "12", "empty", "");
    private static final PlannedTime NEW_YEAR = new PlannedTime(
                    Instant.parse("2026-12-31T23:30:00Z"), ZoneId.of("Europe/Oslo"))
            .knowing(TemplateTest::days);

    /** Odd days of the month. */
    private static DaySet days(String name) {
        if (!name.equals("odd")) {
            throw new ExpressionException("there is no calendar '" + name + "'");
        }
        return day -> LocalDate.ofEpochDay(day).getDayOfMonth() % 2 == 1 ? day : day + 1;
    }

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
                "${first_of_month(planned.date)}         | 2027-01-01",
                "${last_of_month(date('2028-02-11'))}    | 2028-02-29",
                "${first_of_quarter(date('2026-06-30'))} | 2026-04-01",
                "${last_of_quarter(date('2026-06-30'))}  | 2026-06-30",
                "${first_of_year(planned.date)}          | 2027-01-01",
                "${plus_months(date('2026-12-31'), 2)}   | 2027-02-28",
                "${first_of_month(plus_months(planned.date, -1))} | 2026-12-01",
                "${next_working_day(planned.date)}       | 2027-01-04",
                "${previous_working_day(planned.date)}   | 2026-12-31",
                "${next_working_day(planned.date, 'odd')} | 2027-01-03",
                "${format(planned.date, 'd MMMM yyyy')}  | 1 January 2027",
                "${planned.local}                        | 2027-01-01T00:30",
                "${planned.at}                           | 2026-12-31T23:30:00Z",
                "${planned.local + hours(1) + minutes(5)} | 2027-01-01T01:35",
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
                "${rout}                | nothing is known as 'rout'; did you mean 'route'?",
                "${route + 1}           | '+' does not go with text and number; int(...) makes",
                "${route +}             | column 8: it ends too early",
                "${(route}              | column 7: ')' is missing at the end",
                "${route route}         | column 7: 'route' does not fit here",
                "${route == \"a}         | a text ends with the quote that it begins with",
                "${rout()}              | there is no function 'rout'",
                "${!route}              | '!' does not go with text",
                "${size(1)}             | 'size' does not take number",
                "${days('x')}           | 'days' does not take text",
                "${planned.time}        | nothing is known as"
            })
    void isRefused(String text, String message) {
        assertThatThrownBy(() -> Template.of(text).check(VALUES.keySet()))
                .isInstanceOf(ExpressionException.class)
                .hasMessageContaining(message);
    }

    @ParameterizedTest(name = "{0} cannot be worked out: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "${int(route)}              | cannot be worked out: 'sound' is no number",
                "${1 / (int(limit) - 12)}   | cannot be worked out: it divides by zero",
                "${[1, 2][int(limit)]}      | cannot be worked out: the list has no item 12",
                "${next_working_day(planned.date, 'evn')} | there is no calendar 'evn'",
                "${date(route)}                           | 'sound' is no date such as 2026-11-23",
                "${format(planned.date, 'QQQQQQQQ')}      | is no pattern for a date"
            })
    void saysWhyNot(String text, String message) {
        assertThatThrownBy(() -> Template.of(text).fill(VALUES, NEW_YEAR)).hasMessageContaining(message);
    }

    @Test
    @DisplayName("is bound: values stay beside it")
    void isBound() {
        Bindings.Bound bound = new Bindings(VALUES, NEW_YEAR)
                .bind("select * from sale where route = ${route} and at < ${planned.date}");
        assertThat(bound.text()).isEqualTo("select * from sale where route = ? and at < ?");
        assertThat(bound.values()).containsExactly("sound", "2027-01-01");
        assertThat(bound.typed()).isEqualTo("select * from sale where route = ? and at < cast(? as date)");
        var typed = new Bindings(
                        Map.of("n", "12.50", "ok", "yes", "at", "2027-01-01T07:30", "t", "07:30", "c", "007"), NEW_YEAR)
                .typed(Map.of(
                        "n", ValueKind.NUMBER, "ok", ValueKind.YES_NO, "at", ValueKind.DATE_TIME, "t", ValueKind.TIME));
        assertThat(typed.bind("${n} ${ok} ${at} ${t} ${c} ${size(c)}").typed())
                .isEqualTo(
                        "cast(? as decimal(4, 2)) cast(? as boolean) cast(? as timestamp) cast(? as time) ? cast(? as bigint)");
    }

    @Test
    @DisplayName("of JSON escapes what stands between quotes, and keeps numbers and yes or no elsewhere")
    void fillsJson() {
        var known = new Bindings(
                        Map.of(
                                "n",
                                "12.50",
                                "ok",
                                "yes",
                                "text",
                                "a \"b\"\n",
                                "list",
                                "[1,{\"a\":\"]\"}]",
                                "bad",
                                "{}, {}"),
                        NEW_YEAR)
                .typed(Map.of("n", ValueKind.NUMBER, "ok", ValueKind.YES_NO));
        assertThat(known.fillJson(
                        "{ \"a\": ${n}, \"b\": ${ok}, \"c\": \"say ${text}\", \"d\": ${text}, \"e\": ${list}, \"f\": ${bad},"
                                + " \"g\": ${planned.date}, \"h\": \"\\\"${n}\" }"))
                .isEqualTo(
                        "{ \"a\": 12.50, \"b\": true, \"c\": \"say a \\\"b\\\"\\n\", \"d\": \"a \\\"b\\\"\\n\", \"e\": [1,{\"a\":\"]\"}],"
                                + " \"f\": \"{}, {}\", \"g\": \"2027-01-01\", \"h\": \"\\\"12.50\" }");
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

    @Test
    @DisplayName("has a budget: neither steps nor what is built up can grow without end")
    void hasABudget() {
        Map<String, String> large = Map.of("text", "x".repeat(50_000));
        String adding = "${text" + " + text".repeat(5) + "}";
        assertThatThrownBy(() -> Template.of(adding).fill(large, NEW_YEAR))
                .hasMessageContaining("the text grows beyond 100000 characters");
        assertThatThrownBy(() -> Template.of("${[1].map(x, [x, x])[0]}").check(List.of()))
                .hasMessageContaining("there is no function 'map'");
        assertThatThrownBy(() -> Template.of("${" + "(".repeat(200) + "1" + ")".repeat(200) + "}")
                        .check(List.of()))
                .hasMessageContaining("nested more than 24 deep");
        assertThatThrownBy(() -> Template.of("${" + "1+".repeat(2_000) + "1}").check(List.of()))
                .hasMessageContaining("may have 2000 characters");
        assertThat(Template.of("${route + '-' + route}").fill(VALUES, NEW_YEAR)).isEqualTo("sound-sound");
    }

    @Test
    @DisplayName("does only so much work, counted over all its expressions, and says so")
    void isBounded() {
        var lengthy = new Bindings(Map.of("x", "a".repeat(10_000)), NEW_YEAR);
        assertThat(lengthy.holds("x.matches('a.a') && !x.matches('^b') && x.contains('aaa') && !'route'.matches('z')"))
                .isTrue();
        assertThat(lengthy.fill("${x.matches('aaa') ? 'three' : 'fewer'}".repeat(3)))
                .isEqualTo("three".repeat(3));
        String grown = "(x" + "+x".repeat(8) + ")";
        for (String much : List.of(
                grown + ".matches('(a?){30}c')",
                grown + ".contains(" + grown + "+'b')",
                "x.matches('b(c|d)')" + " || x.matches('b(c|d)')".repeat(20),
                "next_working_day(planned.date) > planned.date"
                        + " && next_working_day(planned.date) > planned.date".repeat(30))) {
            assertThatThrownBy(() -> lengthy.holds(much))
                    .isInstanceOf(ExpressionException.class)
                    .hasMessageContaining("cannot be worked out: it takes too much work");
        }
        assertThatThrownBy(() -> lengthy.fill("${x.matches('b(c|d)') ? '' : ''}".repeat(20)))
                .hasMessageContaining("it takes too much work");
        assertThatThrownBy(() -> lengthy.holds("x.matches('(')")).hasMessageContaining("'(' is no regular expression");
        assertThatThrownBy(() -> lengthy.holds("x.matches('(a{100}){200}')"))
                .hasMessageContaining("is too large once its repetitions are written out");
    }
}
