package org.gantrel.core.calendar;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.MonthDay;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.problem.InvalidException;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A calendar")
class CalendarDaysTest {

    private final Map<String, CalendarDays> known = new HashMap<>();

    private CalendarDays read(String text) {
        Calendar calendar = DefinitionReader.readCalendar(text).calendar();
        var days = new CalendarDays(calendar, known::get);
        known.put(calendar.name(), days);
        return days;
    }

    private static List<String> closed(CalendarDays days, int year) {
        return LocalDate.of(year, 1, 1)
                .datesUntil(LocalDate.of(year + 1, 1, 1))
                .filter(date -> date.getDayOfWeek().compareTo(DayOfWeek.SATURDAY) < 0 && !days.holds(date))
                .map(date -> date + " " + days.label(date).orElse(""))
                .toList();
    }

    @Test
    @DisplayName("knows holidays by date, by yearly rule, from Easter, and those that are moved off a weekend")
    void knowsHolidays() {
        CalendarDays days = read(
                """
                calendar: bank
                team: finance
                days: weekdays
                closed:
                  - { on: 1 January, label: New Year }
                  - { on: 2 days before Easter, label: Good Friday }
                  - { on: last Monday of May, label: Spring }
                  - { on: 25 December, label: First, on-weekend: following }
                  - { on: 26 December, label: Second, on-weekend: following }
                  - { from: 2027-07-12, to: 2027-07-14, label: Closing days }
                open:
                  - { on: 2027-07-13, label: Open after all }
                """);
        assertThat(closed(days, 2027))
                .containsExactly(
                        "2027-01-01 New Year",
                        "2027-03-26 Good Friday",
                        "2027-05-31 Spring",
                        "2027-07-12 Closing days",
                        "2027-07-14 Closing days",
                        "2027-12-27 First (moved)",
                        "2027-12-28 Second (moved)");
        assertThat(days.label(LocalDate.of(2027, 7, 13))).contains("Open after all");
        assertThat(days.label(LocalDate.of(2027, 12, 25))).contains("First");
    }

    @Test
    @DisplayName("is made of others: their union, their intersection, and what remains of one without another")
    void isMadeOfOthers() {
        read("calendar: summer\nteam: t\nseasons: [ { from: 04-15, to: 09-30, label: summer } ]\n");
        read("calendar: winter\nteam: t\nseasons: [ { from: 12-01, to: 02-28 } ]\n");
        read("calendar: holidays\nteam: t\ndays: none\nopen: [ { on: 17 May, label: National day } ]\n");
        CalendarDays either = read("calendar: e\nteam: t\nany-of: [ summer, winter ]\nexcept: [ holidays ]\n");
        CalendarDays both = read("calendar: b\nteam: t\nall-of: [ summer, e ]\n");
        assertThat(either.holds(LocalDate.of(2027, 1, 10))).isTrue();
        assertThat(either.holds(LocalDate.of(2027, 3, 10))).isFalse();
        assertThat(either.holds(LocalDate.of(2027, 5, 17))).isFalse();
        assertThat(either.label(LocalDate.of(2027, 5, 17))).contains("National day");
        assertThat(both.holds(LocalDate.of(2027, 1, 10))).isFalse();
        assertThat(both.next(LocalDate.of(2027, 10, 1).toEpochDay()))
                .isEqualTo(LocalDate.of(2028, 4, 15).toEpochDay());
    }

    @Test
    @DisplayName("has the days that a plain set of days has, whatever it is made of")
    void agreesWithPlainSets() {
        var random = new Random(41);
        Map<String, Set<LocalDate>> naive = new HashMap<>();
        List<LocalDate> span =
                LocalDate.of(2026, 1, 1).datesUntil(LocalDate.of(2029, 1, 1)).toList();
        var names = new ArrayList<String>();
        for (int i = 0; i < 120; i++) {
            String name = "c" + i;
            var text = new StringBuilder("calendar: " + name + "\nteam: t\n");
            var set = new TreeSet<LocalDate>();
            if (names.size() > 3 && random.nextBoolean()) {
                List<String> parts = Stream.generate(() -> names.get(random.nextInt(names.size())))
                        .limit(2)
                        .distinct()
                        .toList();
                boolean any = random.nextBoolean();
                text.append(any ? "any-of: " : "all-of: ").append(parts).append('\n');
                span.stream()
                        .filter(date -> any
                                ? parts.stream()
                                        .anyMatch(part -> naive.get(part).contains(date))
                                : parts.stream()
                                        .allMatch(part -> naive.get(part).contains(date)))
                        .forEach(set::add);
                if (random.nextBoolean()) {
                    String except = names.get(random.nextInt(names.size()));
                    text.append("except: [ ").append(except).append(" ]\n");
                    set.removeAll(naive.get(except));
                }
            } else {
                text.append("days: weekdays\n");
                span.stream()
                        .filter(date -> date.getDayOfWeek().compareTo(DayOfWeek.SATURDAY) < 0)
                        .forEach(set::add);
                if (random.nextBoolean()) {
                    season(random, text, set);
                }
            }
            LocalDate shut = span.get(random.nextInt(span.size()));
            LocalDate open = span.get(random.nextInt(span.size()));
            int month = 1 + random.nextInt(12);
            text.append("closed: [ { on: %s }, { on: 3 %s } ]\nopen: [ { on: %s } ]\n"
                    .formatted(shut, java.time.Month.of(month), open));
            set.remove(shut);
            set.removeIf(date -> date.getMonthValue() == month && date.getDayOfMonth() == 3);
            set.add(open);
            CalendarDays days = read(text.toString());
            naive.put(name, set);
            names.add(name);
            assertThat(span.stream().filter(days::holds).collect(Collectors.toSet()))
                    .as(text.toString())
                    .isEqualTo(set);
        }
    }

    private static void season(Random random, StringBuilder text, Set<LocalDate> set) {
        MonthDay from = MonthDay.of(1 + random.nextInt(12), 1 + random.nextInt(28));
        MonthDay to = MonthDay.of(1 + random.nextInt(12), 1 + random.nextInt(28));
        text.append("seasons: [ { from: \"%s\", to: \"%s\" } ]\n"
                .formatted(from.toString().substring(2), to.toString().substring(2)));
        set.removeIf(date -> {
            MonthDay day = MonthDay.from(date);
            return from.isAfter(to) ? day.isBefore(from) && day.isAfter(to) : day.isBefore(from) || day.isAfter(to);
        });
    }

    @Test
    @DisplayName("that is wrong says all that is, with lines and columns")
    void thatIsWrong() {
        assertThatThrownBy(
                        () -> DefinitionReader.readCalendar(
                                """
                        calendar: bank
                        team: finance
                        days: weekdys
                        any-of: [ a ]
                        hours: 16-8
                        seasons: [ { from: 13-01, to: 02-28 } ]
                        closed:
                          - { on: last Mondy of May }
                          - { on: 25 December, on-weekend: later }
                          - { label: nothing }
                          - { from: 2027-07-14, to: 2027-07-12 }
                          - { on: 1 May, to: 3 May }
                          - { from: 2027-07-14, on-weekend: following }
                        """))
                .isInstanceOfSatisfying(InvalidException.class, wrong -> assertThat(wrong.problems())
                        .extracting(problem -> problem.line() + " " + problem.field() + ": " + problem.message())
                        .anySatisfy(text -> assertThat(text).startsWith("4 any-of: goes not together with 'days'"))
                        .anySatisfy(text -> assertThat(text).startsWith("5 hours: '16-8': hours such as 08:00-16:00"))
                        .anySatisfy(
                                text -> assertThat(text).startsWith("6 seasons[0].from: '13-01': a month and a day"))
                        .anySatisfy(text -> assertThat(text).contains("'mondy'", "column 6", "did you mean 'monday'?"))
                        .anySatisfy(text -> assertThat(text).startsWith("9 closed[1].on-weekend: 'later'"))
                        .anySatisfy(text -> assertThat(text).startsWith("10 closed[2].on: one of three is expected"))
                        .anySatisfy(text -> assertThat(text).startsWith("11 closed[3].to: 2027-07-12 is before"))
                        .anySatisfy(text -> assertThat(text).startsWith("12 closed[4].to: goes with 'from'"))
                        .anySatisfy(text -> assertThat(text).startsWith("13 closed[5].on-weekend: goes with 'on'")));
    }
}
