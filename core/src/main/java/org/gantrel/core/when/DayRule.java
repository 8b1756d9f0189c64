package org.gantrel.core.when;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.format.TextStyle;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.gantrel.core.text.Words;

/** Which days of a month count. */
sealed interface DayRule {

    DayRule EVERY = new Weekdays(BitSet.valueOf(new long[] {0b1111111}));

    boolean matches(LocalDate day);

    /** What stands before "at" in a phrase. */
    String phrase();

    /** Days of the month, by number. */
    record Dates(BitSet numbers) implements DayRule {
        @Override
        public boolean matches(LocalDate day) {
            return numbers.get(day.getDayOfMonth());
        }

        @Override
        public String phrase() {
            return "day "
                    + Words.list(numbers.stream().mapToObj(String::valueOf).toList()) + " of every month";
        }
    }

    /** Days of the week, Sunday being 0. */
    record Weekdays(BitSet numbers) implements DayRule {
        @Override
        public boolean matches(LocalDate day) {
            return numbers.get(DayRule.weekdayOf(day));
        }

        @Override
        public String phrase() {
            String bits = "0123456"
                    .chars()
                    .mapToObj(c -> numbers.get(c - '0') ? "1" : "0")
                    .collect(Collectors.joining());
            return switch (bits) {
                case "1111111" -> "every day";
                case "0111110" -> "every weekday";
                case "1000001" -> "every weekend day";
                default ->
                    "every "
                            + Words.list(IntStream.of(1, 2, 3, 4, 5, 6, 0)
                                    .filter(numbers::get)
                                    .mapToObj(DayRule::name)
                                    .toList());
            };
        }
    }

    /** The last day of the month, or some days before it. */
    record LastDay(int before) implements DayRule {
        @Override
        public boolean matches(LocalDate day) {
            return day.getDayOfMonth() == day.lengthOfMonth() - before;
        }

        @Override
        public String phrase() {
            return before == 0
                    ? "last day of every month"
                    : Words.count(before, "day") + " before the last day of every month";
        }
    }

    /** The last day of the month that is not a Saturday or a Sunday. */
    record LastWorkday() implements DayRule {
        @Override
        public boolean matches(LocalDate day) {
            LocalDate last = day.withDayOfMonth(day.lengthOfMonth());
            return day.equals(last.minusDays(Math.max(0, last.getDayOfWeek().getValue() - 5)));
        }

        @Override
        public String phrase() {
            return "last weekday of every month";
        }
    }

    /** The day from Monday to Friday that is nearest to a date, within the same month. */
    record NearestWorkday(int date) implements DayRule {
        @Override
        public boolean matches(LocalDate day) {
            if (date > day.lengthOfMonth()) {
                return false;
            }
            LocalDate wanted = day.withDayOfMonth(date);
            return day.equals(
                    switch (wanted.getDayOfWeek()) {
                        case SATURDAY -> date == 1 ? wanted.plusDays(2) : wanted.minusDays(1);
                        case SUNDAY -> date == day.lengthOfMonth() ? wanted.minusDays(2) : wanted.plusDays(1);
                        default -> wanted;
                    });
        }

        @Override
        public String phrase() {
            return "weekday nearest to day " + date + " of every month";
        }
    }

    /** The first to fifth of a weekday in the month. */
    record NthWeekday(int weekday, int nth) implements DayRule {
        private static final List<String> ORDINALS = List.of("first", "second", "third", "fourth", "fifth");

        @Override
        public boolean matches(LocalDate day) {
            return DayRule.weekdayOf(day) == weekday && (day.getDayOfMonth() + 6) / 7 == nth;
        }

        @Override
        public String phrase() {
            return ORDINALS.get(nth - 1) + " " + name(weekday) + " of every month";
        }
    }

    /** The last of a weekday in the month. */
    record LastWeekday(int weekday) implements DayRule {
        @Override
        public boolean matches(LocalDate day) {
            return DayRule.weekdayOf(day) == weekday && day.getDayOfMonth() > day.lengthOfMonth() - 7;
        }

        @Override
        public String phrase() {
            return "last " + name(weekday) + " of every month";
        }
    }

    /** A day that any of the rules knows. */
    record AnyOf(List<DayRule> rules) implements DayRule {
        @Override
        public boolean matches(LocalDate day) {
            return rules.stream().anyMatch(rule -> rule.matches(day));
        }

        @Override
        public String phrase() {
            return rules.stream().map(DayRule::phrase).collect(Collectors.joining(", or "));
        }
    }

    private static int weekdayOf(LocalDate day) {
        return day.getDayOfWeek().getValue() % 7;
    }

    private static String name(int weekday) {
        return DayOfWeek.of(weekday == 0 ? 7 : weekday).getDisplayName(TextStyle.FULL, Locale.ENGLISH);
    }
}
