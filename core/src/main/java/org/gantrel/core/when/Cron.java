package org.gantrel.core.when;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * A rule of minutes, hours, days, months and years.
 *
 * @param items days by their place in the month; none where the field is open
 * @param weekdays chosen weekdays; 0 where the field is open or has others than plain ones
 * @param years none where the field is open
 * @param oddities what to beware of in how it is written
 */
record Cron(
        String text,
        Times.Grid times,
        List<Item> items,
        int weekdays,
        int months,
        Optional<BitSet> years,
        List<String> oddities,
        LocalRule rule)
        implements Timetable {

    static Cron of(
            String text,
            Times.Grid times,
            List<Item> items,
            int weekdays,
            int months,
            Optional<BitSet> years,
            List<String> oddities) {
        return new Cron(
                text,
                times,
                items,
                weekdays,
                months,
                years,
                List.copyOf(oddities),
                new LocalRule(days(items, weekdays, months, years), times));
    }

    @Override
    public Kind kind() {
        return Kind.CRON;
    }

    @Override
    public String phrase() {
        return CronPhrase.of(this).map(Phrase::phrase).orElseGet(() -> CronWords.words(this));
    }

    @Override
    public List<String> cautions() {
        return Stream.concat(oddities.stream(), CronPhrase.of(this).map(Phrase::cautions).orElse(List.of()).stream())
                .toList();
    }

    @Override
    public Optional<Instant> next(Instant after, ZoneId zone) {
        return rule.next(after, zone);
    }

    @Override
    public int[] secondsOn(long day, ZoneId zone) {
        return rule.secondsOn(day);
    }

    /** POSIX: where day and weekday are both restricted, a day that matches either will do. */
    private static DaySet days(List<Item> items, int weekdays, int months, Optional<BitSet> years) {
        var either = new ArrayList<DaySet>();
        if (!items.isEmpty()) {
            either.add(new PeriodDays(Period.MONTH, 1, months, 0, items, DayShift.NONE, DaySet.MONDAY_TO_FRIDAY));
        }
        if (weekdays != 0 || items.isEmpty()) {
            DaySet days = Weekdays.of(weekdays == 0 ? Weekdays.ALL : weekdays);
            either.add(months == PeriodDays.ALL_MONTHS ? days : new DayChoice.InMonths(days, months));
        }
        DaySet days = either.size() == 1 ? either.get(0) : new DayChoice.Either(either.get(0), either.get(1));
        return years.isEmpty() ? days : new InYears(days, years.get());
    }

    private record InYears(DaySet days, BitSet years) implements DaySet {
        @Override
        public long next(long day) {
            long at = day;
            while (true) {
                at = days.next(at);
                if (at == NEVER) {
                    return NEVER;
                }
                int year = LocalDate.ofEpochDay(at).getYear();
                if (year >= 0 && years.get(year)) {
                    return at;
                }
                int next = years.nextSetBit(Math.max(0, year + 1));
                if (next < 0) {
                    return NEVER;
                }
                at = LocalDate.of(next, 1, 1).toEpochDay();
            }
        }
    }
}
