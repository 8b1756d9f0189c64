package org.gantrel.core.calendar;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.gantrel.core.calendar.Calendar.Base;
import org.gantrel.core.calendar.Calendar.Move;
import org.gantrel.core.calendar.Calendar.Season;
import org.gantrel.core.calendar.Calendar.Special;
import org.gantrel.core.when.DaySet;

/**
 * The open days of a calendar, worked out year by year. What a year came to is kept, since calendars are asked again and
 * again for the same years.
 */
public final class CalendarDays implements DaySet {

    /** How many years ahead an open day is looked for. */
    private static final int MOST_YEARS = 60;

    /** How far a holiday is moved at most. */
    private static final int FARTHEST_MOVE = 14;

    private record Year(long first, BitSet open, Map<Long, String> labels) {}

    private final Calendar calendar;
    private final List<CalendarDays> base;
    private final List<CalendarDays> except;
    private final Map<Integer, Year> years = new ConcurrentHashMap<>();

    /**
     * A calendar with those that it is made from.
     *
     * @param others the days of another calendar by its name
     */
    public CalendarDays(Calendar calendar, Function<String, CalendarDays> others) {
        this.calendar = calendar;
        List<String> names = calendar.base() instanceof Base.AnyOf any
                ? any.calendars()
                : calendar.base() instanceof Base.AllOf all ? all.calendars() : List.of();
        this.base = names.stream().map(others).toList();
        this.except = calendar.except().stream().map(others).toList();
    }

    public Calendar calendar() {
        return calendar;
    }

    @Override
    public boolean holds(long day) {
        Year year = year(LocalDate.ofEpochDay(day).getYear());
        return year.open.get((int) (day - year.first));
    }

    @Override
    public long next(long day) {
        int first = LocalDate.ofEpochDay(day).getYear();
        for (int number = first; number < first + MOST_YEARS; number++) {
            Year year = year(number);
            int found = year.open.nextSetBit((int) Math.max(0, day - year.first));
            if (found >= 0) {
                return year.first + found;
            }
        }
        return NEVER;
    }

    /** What a day is called, or why it is closed, where that was said. */
    public Optional<String> label(LocalDate date) {
        return Optional.ofNullable(year(date.getYear()).labels.get(date.toEpochDay()));
    }

    private Year year(int number) {
        return years.computeIfAbsent(number, this::workOut);
    }

    private Year workOut(int number) {
        LocalDate first = LocalDate.of(number, 1, 1);
        var year = new Year(first.toEpochDay(), new BitSet(), new HashMap<>());
        for (LocalDate date = first; date.getYear() == number; date = date.plusDays(1)) {
            long day = date.toEpochDay();
            boolean open = begins(day, year.labels) && isInSeason(date, year.labels);
            year.open.set((int) (day - year.first), open);
        }
        var moved = new HashMap<Long, String>();
        // a holiday of the neighbouring years may be moved into this one
        LocalDate last = first.plusYears(1).plusDays(FARTHEST_MOVE);
        for (Special special : calendar.closed()) {
            for (long day = special.days().next(first.minusDays(FARTHEST_MOVE).toEpochDay());
                    day < last.toEpochDay();
                    day = special.days().next(day + 1)) {
                long closed = target(special, day, moved);
                moved.put(closed, closed == day ? special.label() : special.label() + " (moved)");
                put(year, day, special.label(), false);
                put(year, closed, moved.get(closed), false);
            }
        }
        for (Special special : calendar.open()) {
            for (long day = special.days().next(year.first);
                    day < first.plusYears(1).toEpochDay();
                    day = special.days().next(day + 1)) {
                put(year, day, special.label(), true);
            }
        }
        return year;
    }

    private static void put(Year year, long day, String label, boolean open) {
        int place = (int) (day - year.first);
        if (place < 0
                || LocalDate.ofEpochDay(day).getYear()
                        != LocalDate.ofEpochDay(year.first).getYear()) {
            return;
        }
        boolean same = year.open.get(place) == open;
        year.open.set(place, open);
        if (!label.isEmpty()) {
            year.labels.merge(day, label, (known, more) -> !same || known.equals(more) ? more : known + ", " + more);
        }
    }

    private long target(Special special, long day, Map<Long, String> taken) {
        if (special.move() == Move.STAYS || isWorkday(day)) {
            return day;
        }
        for (int steps = 1; steps <= FARTHEST_MOVE; steps++) {
            boolean back = isWorkday(day - steps) && !taken.containsKey(day - steps);
            boolean ahead = isWorkday(day + steps) && !taken.containsKey(day + steps);
            if (ahead && special.move() != Move.PRECEDING) {
                return day + steps;
            }
            if (back && special.move() != Move.FOLLOWING) {
                return day - steps;
            }
        }
        return day;
    }

    /** Whether a day would be a working day if there were no holidays. */
    private boolean isWorkday(long day) {
        if (calendar.base() instanceof Base.Week week && week.mask() != 0b1111111) {
            return (week.mask() >>> LocalDate.ofEpochDay(day).getDayOfWeek().getValue() - 1 & 1) == 1;
        }
        return LocalDate.ofEpochDay(day).getDayOfWeek().compareTo(DayOfWeek.SATURDAY) < 0;
    }

    private boolean begins(long day, Map<Long, String> labels) {
        LocalDate date = LocalDate.ofEpochDay(day);
        for (CalendarDays other : except) {
            if (other.holds(day)) {
                labels.put(day, other.label(date).orElse(other.calendar.name()));
                return false;
            }
        }
        for (CalendarDays other : base) {
            other.label(date).ifPresent(label -> labels.put(day, label));
        }
        if (calendar.base() instanceof Base.Week week) {
            return (week.mask() >>> date.getDayOfWeek().getValue() - 1 & 1) == 1;
        }
        return calendar.base() instanceof Base.AnyOf
                ? base.stream().anyMatch(other -> other.holds(day))
                : base.stream().allMatch(other -> other.holds(day));
    }

    private boolean isInSeason(LocalDate date, Map<Long, String> labels) {
        if (calendar.seasons().isEmpty()) {
            return true;
        }
        Optional<Season> season =
                calendar.seasons().stream().filter(found -> found.holds(date)).findFirst();
        if (season.isEmpty()) {
            labels.putIfAbsent(date.toEpochDay(), "out of season");
        }
        return season.isPresent();
    }
}
