package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.Arrays;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.IntStream;
import java.util.stream.LongStream;
import org.gantrel.core.when.RuleParts.Frequency;

/** The local times that a rule stands for, day by day, before anything is counted, added or left out. */
final class RuleStamps {

    /** The Gregorian calendar repeats after so many days; a search that came round once need not go on. */
    private static final int CYCLE_DAYS = 146_097;

    private static final int[] NOTHING = {};
    private static final long[] NO_DAYS = {};

    private final RuleParts parts;
    private final long startDay;
    private final int startSecond;
    private final RuleYear year;
    private final int[] times;
    private final boolean isPossible;

    RuleStamps(RuleParts parts, long startDay, int startSecond) {
        this.parts = parts;
        this.startDay = startDay;
        this.startSecond = startSecond;
        this.year = new RuleYear(parts, LocalDate.ofEpochDay(startDay));
        this.times = times();
        this.isPossible = year.isPossible();
    }

    private boolean isSubDaily() {
        return parts.frequency().compareTo(Frequency.DAILY) < 0;
    }

    /** Whether it leaves the hour open, so that both passes of an hour that exists twice count. */
    boolean everyHour() {
        return isSubDaily()
                && parts.hours().isEmpty()
                && parts.interval() <= (parts.frequency() == Frequency.HOURLY ? 1 : 60);
    }

    /** The times of a day that a rule of whole days has. */
    private int[] times() {
        return RuleYear.orElse(parts.hours(), startSecond / 3600).stream()
                .flatMapToInt(hour -> RuleYear.orElse(parts.minutes(), startSecond / 60 % 60).stream()
                        .flatMapToInt(minute -> RuleYear.orElse(parts.seconds(), startSecond % 60).stream()
                                .mapToInt(second -> hour * 3600 + minute * 60 + second)))
                .sorted()
                .toArray();
    }

    /** The first day from the given one on that has times; {@link DaySet#NEVER} where there is none. */
    long nextDay(long from) {
        long day = Math.max(from, startDay);
        if (!isPossible) {
            return DaySet.NEVER;
        }
        return isSubDaily() ? nextSubDaily(day) : nextWhole(day);
    }

    /** The times of a day, none earlier than the start of the rule. */
    int[] on(long day) {
        if (day < startDay) {
            return NOTHING;
        }
        int[] found = isSubDaily() ? subDaily(day) : whole(day);
        return day > startDay
                ? found
                : Arrays.stream(found).filter(second -> second >= startSecond).toArray();
    }

    private long nextWhole(long day) {
        long index = index(day);
        long first = index(startDay);
        index += Math.floorMod(first - index, (long) parts.interval());
        long cycle =
                switch (parts.frequency()) {
                    case YEARLY -> Period.YEAR.cycle;
                    case MONTHLY -> Period.MONTH.cycle;
                    case WEEKLY -> Period.WEEK.cycle;
                    default -> CYCLE_DAYS;
                };
        long last = index + cycle * parts.interval();
        for (; index <= last; index += parts.interval()) {
            if (parts.frequency() == Frequency.DAILY && !parts.months().isEmpty()) {
                index = inMonths(index);
            }
            long found = firstOn(index, day);
            if (found != DaySet.NEVER) {
                return found;
            }
        }
        return DaySet.NEVER;
    }

    /** Days are stepped over month by month where the month is not meant. */
    private long inMonths(long from) {
        long day = from;
        for (int i = 0; i < 13; i++) {
            LocalDate date = LocalDate.ofEpochDay(day);
            if (parts.months().contains(date.getMonthValue())) {
                return day;
            }
            long next = date.withDayOfMonth(1).plusMonths(1).toEpochDay();
            day = next + Math.floorMod(from - next, (long) parts.interval());
        }
        return day;
    }

    private long firstOn(long index, long day) {
        long[] days = periodDays(index);
        for (long found : days) {
            if (found >= day
                    && (found > startDay || on(found).length > 0)
                    && (parts.positions().isEmpty() || chosen(days).containsKey(found))) {
                return found;
            }
        }
        return DaySet.NEVER;
    }

    private int[] whole(long day) {
        long index = index(day);
        if (Math.floorMod(index - index(startDay), (long) parts.interval()) != 0) {
            return NOTHING;
        }
        long[] days = periodDays(index);
        if (Arrays.binarySearch(days, day) < 0) {
            return NOTHING;
        }
        return parts.positions().isEmpty() ? times : chosen(days).getOrDefault(day, NOTHING);
    }

    /** What BYSETPOS chooses of all the times of a period. */
    private Map<Long, int[]> chosen(long[] days) {
        int all = days.length * times.length;
        var chosen = new TreeMap<Long, int[]>();
        parts.positions().stream()
                .mapToInt(position -> position > 0 ? position - 1 : all + position)
                .filter(position -> position >= 0 && position < all)
                .sorted()
                .distinct()
                .forEach(position -> chosen.merge(
                        days[position / times.length],
                        new int[] {times[position % times.length]},
                        (earlier, later) -> IntStream.concat(Arrays.stream(earlier), Arrays.stream(later))
                                .toArray()));
        return chosen;
    }

    private long index(long day) {
        return switch (parts.frequency()) {
            case YEARLY -> Period.YEAR.index(day);
            case MONTHLY -> Period.MONTH.index(day);
            case WEEKLY -> Math.floorDiv(day + 3 - parts.weekStart(), 7L);
            default -> day;
        };
    }

    private long[] periodDays(long index) {
        return switch (parts.frequency()) {
            case YEARLY -> year.days(Period.YEAR.first(index), Period.YEAR.first(index + 1) - 1);
            case MONTHLY -> year.days(Period.MONTH.first(index), Period.MONTH.first(index + 1) - 1);
            case WEEKLY -> year.days(index * 7 - 3 + parts.weekStart(), index * 7 + 3 + parts.weekStart());
            default -> year.holds(index, LocalDate.ofEpochDay(index)) ? new long[] {index} : NO_DAYS;
        };
    }

    private long nextSubDaily(long from) {
        if (!isReachable()) {
            return DaySet.NEVER;
        }
        long day = from;
        while (day < from + CYCLE_DAYS) {
            LocalDate date = LocalDate.ofEpochDay(day);
            if (!parts.months().isEmpty() && !parts.months().contains(date.getMonthValue())) {
                day = date.withDayOfMonth(1).plusMonths(1).toEpochDay();
            } else if (year.holds(day, date) && on(day).length > 0) {
                return day;
            } else {
                day++;
            }
        }
        return DaySet.NEVER;
    }

    private int unit() {
        return parts.frequency() == Frequency.HOURLY ? 3600 : 60;
    }

    /** Steps that never meet a wanted hour or minute are known at once: what they meet repeats. */
    private boolean isReachable() {
        long step = (long) parts.interval() * unit();
        long second = Math.floorDiv(startSecond, unit()) * (long) unit();
        for (int i = 0; i < Times.DAY / unit(); i++) {
            if (isWanted((int) Math.floorMod(second, (long) Times.DAY))) {
                return true;
            }
            second += step;
        }
        return false;
    }

    private boolean isWanted(int second) {
        return (parts.hours().isEmpty() || parts.hours().contains(second / 3600))
                && (parts.frequency() == Frequency.HOURLY
                        || parts.minutes().isEmpty()
                        || parts.minutes().contains(second / 60 % 60));
    }

    private int[] subDaily(long day) {
        if (!year.holds(day, LocalDate.ofEpochDay(day))) {
            return NOTHING;
        }
        long step = (long) parts.interval() * unit();
        long origin = startDay * Times.DAY + Math.floorDiv(startSecond, unit()) * (long) unit();
        long begin = day * Times.DAY;
        long first = begin + Math.floorMod(origin - begin, step);
        return LongStream.iterate(first, at -> at < begin + Times.DAY, at -> at + step)
                .mapToInt(at -> (int) (at - begin))
                .filter(this::isWanted)
                .flatMap(this::within)
                .toArray();
    }

    /** The times of one hour or one minute. */
    private IntStream within(int second) {
        boolean hourly = parts.frequency() == Frequency.HOURLY;
        int[] found = (hourly
                        ? RuleYear.orElse(parts.minutes(), startSecond / 60 % 60).stream()
                                .mapToInt(minute -> second + minute * 60)
                        : IntStream.of(second))
                .flatMap(at -> RuleYear.orElse(parts.seconds(), startSecond % 60).stream()
                        .mapToInt(more -> at + more))
                .sorted()
                .toArray();
        if (parts.positions().isEmpty()) {
            return IntStream.of(found);
        }
        return parts.positions().stream()
                .mapToInt(position -> position > 0 ? position - 1 : found.length + position)
                .filter(position -> position >= 0 && position < found.length)
                .sorted()
                .distinct()
                .map(position -> found[position]);
    }
}
