package org.gantrel.core.when;

import java.math.BigInteger;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.IntStream;
import org.gantrel.core.when.RuleParts.Frequency;

/** The local times that a rule stands for, day by day, before anything is counted, added or left out. */
final class RuleStamps {

    private static final int[] NOTHING = {};
    private static final int LONGEST_ROUND = 5_000;

    private final RuleParts parts;
    private final long startDay;
    private final int startSecond;
    private final RuleYear year;
    /** The times of a day of a rule of whole days; of a finer one, the times within its hour or minute. */
    private final int[] times;

    /** One more than how many times the days of a finer rule have, as they repeat; 0 where that is not known yet. */
    private final int[] lengths;

    private final boolean isPossible;
    /** The times of a day of a finer rule, by how far into the day its first step falls; there are few, as they repeat. */
    private final Map<Long, int[]> patterns = new ConcurrentHashMap<>();

    /** What BYSETPOS chose of the period that was asked for last. */
    private volatile Chosen latest;

    private record Chosen(long index, TreeMap<Long, int[]> days) {}

    RuleStamps(RuleParts parts, long startDay, int startSecond) {
        this.parts = parts;
        this.startDay = startDay;
        this.startSecond = startSecond;
        this.year = new RuleYear(parts, LocalDate.ofEpochDay(startDay));
        this.times = isSubDaily() ? chosen(within()) : times();
        this.lengths = new int[round()];
        this.isPossible = weekdayFits() && (isSubDaily() ? times.length > 0 && isReachable() : positionsFit());
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
        int[] all = RuleYear.orElse(parts.hours(), startSecond / 3600).stream()
                .flatMapToInt(hour -> RuleYear.orElse(parts.minutes(), startSecond / 60 % 60).stream()
                        .flatMapToInt(minute -> RuleYear.orElse(parts.seconds(), startSecond % 60).stream()
                                .mapToInt(second -> hour * 3600 + minute * 60 + second)))
                .sorted()
                .toArray();
        return parts.frequency() == Frequency.DAILY ? chosen(all) : all;
    }

    /** The first day from the given one on that has times; {@link DaySet#NEVER} where there is none. */
    long nextDay(long from) {
        if (!isPossible) {
            return DaySet.NEVER;
        }
        long begin = Math.max(from, startDay);
        long last = begin + Math.max(RuleYear.CYCLE_DAYS, parts.interval() * 2L * longest());
        long day = year.next(begin);
        while (day <= last) {
            if (on(day).length > 0) {
                return day;
            }
            day = year.next(Math.max(day + 1, isSubDaily() ? 0 : nextPeriod(day)));
        }
        return DaySet.NEVER;
    }

    private boolean choosesDays() {
        return !isSubDaily()
                && parts.frequency() != Frequency.DAILY
                && !parts.positions().isEmpty();
    }

    /** The times of a day, none earlier than the start of the rule. */
    int[] on(long day) {
        if (day < startDay || !isPossible || !year.holds(day)) {
            return NOTHING;
        }
        int[] found = isSubDaily() ? pattern(day) : whole(day);
        return day > startDay
                ? found
                : Arrays.stream(found).filter(second -> second >= startSecond).toArray();
    }

    /** The day of the start; none before it has times. */
    long firstDay() {
        return startDay;
    }

    /** How many times there are on the days from one to another, both included. */
    int count(long from, long to) {
        long begin = Math.max(from, startDay + 1);
        int found = from <= startDay && startDay <= to ? on(startDay).length : 0;
        if (!isPossible || begin > to) {
            return found;
        }
        if (choosesDays()) {
            return found + chosenBetween(begin, to);
        }
        for (long day = year.next(begin); day <= to; day = year.next(day + 1)) {
            found += lengthOf(day);
        }
        return found;
    }

    /** How many times a day that is meant and comes after the start has. */
    private int lengthOf(long day) {
        if (!isSubDaily()) {
            return Math.floorMod(index(day) - index(startDay), (long) parts.interval()) == 0 ? times.length : 0;
        }
        if (lengths.length == 0) {
            return pattern(day).length;
        }
        int place = (int) Math.floorMod(day - startDay, (long) lengths.length);
        if (lengths[place] == 0) {
            lengths[place] = pattern(day).length + 1;
        }
        return lengths[place] - 1;
    }

    /** After how many days the steps of a finer rule fall as they did; 0 where that is not worth keeping. */
    private int round() {
        if (!isSubDaily()) {
            return 0;
        }
        long step = (long) parts.interval() * unit();
        long days = step
                / BigInteger.valueOf(step).gcd(BigInteger.valueOf(Times.DAY)).longValue();
        return days <= LONGEST_ROUND ? (int) days : 0;
    }

    private int chosenBetween(long from, long to) {
        int found = 0;
        long past = Math.floorMod(index(from) - index(startDay), (long) parts.interval());
        long next = past == 0 ? index(from) : index(from) - past + parts.interval();
        for (long index = next; first(index) <= to; index += parts.interval()) {
            long last = first(index + 1) - 1;
            if (first(index) >= from && last <= to) {
                found += countOfPlaces(year.count(first(index), last) * times.length);

            } else {
                found += chosenOf(index).subMap(from, true, to, true).values().stream()
                        .mapToInt(each -> each.length)
                        .sum();
            }
        }
        return found;
    }

    private int longest() {
        return switch (parts.frequency()) {
            case YEARLY -> 366;
            case MONTHLY -> 31;
            case WEEKLY -> 7;
            default -> 1;
        };
    }

    /** After a day without times: where the next such may be. It lies in a period that counts. */
    private long nextPeriod(long day) {
        long index = index(day);
        long past = Math.floorMod(index - index(startDay), (long) parts.interval());
        long following = first(index - past + parts.interval());
        if (past != 0) {
            return following;
        }
        if (!choosesDays()) {
            return day;
        }
        Long later = chosenOf(index).higherKey(day);
        return later == null ? following : later;
    }

    private int[] whole(long day) {
        long index = index(day);
        if (Math.floorMod(index - index(startDay), (long) parts.interval()) != 0) {
            return NOTHING;
        }
        return choosesDays() ? chosenOf(index).getOrDefault(day, NOTHING) : times;
    }

    /** Steps of whole weeks fall on one weekday for ever. */
    private boolean weekdayFits() {
        long step = (long) parts.interval() * (isSubDaily() ? unit() : Times.DAY);
        boolean stays = parts.frequency().compareTo(Frequency.DAILY) <= 0 && step % (7L * Times.DAY) == 0;
        int weekday = Weekdays.of(startDay);
        return !stays || parts.days().isEmpty() || parts.days().stream().anyMatch(day -> day.weekday() == weekday);
    }

    /** Whether a position that BYSETPOS wants can be had at all; for months and years that is seen as they come. */
    private boolean positionsFit() {

        if (parts.positions().isEmpty() || parts.frequency() == Frequency.DAILY) {
            return times.length > 0;
        }
        int days = mostDays();
        return parts.positions().stream().anyMatch(position -> Math.abs(position) <= days * times.length);
    }

    /** What BYSETPOS chooses of all the times of a period. */
    private TreeMap<Long, int[]> chosen(long[] days) {
        var chosen = new TreeMap<Long, int[]>();
        places(days.length * times.length)
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

    /** How many days a period has at most; every part that is given limits them. */
    private int mostDays() {
        if (parts.frequency() == Frequency.WEEKLY) {
            return Math.max(1, parts.days().size());
        }
        boolean yearly = parts.frequency() == Frequency.YEARLY;
        int months =
                !yearly ? 1 : parts.months().isEmpty() ? 12 : parts.months().size();
        int most = Math.min(366, months * 31);
        if (!parts.days().isEmpty()) {
            int plain = parts.days().size() - parts.placedDays().size();
            most = Math.min(
                    most,
                    plain * (yearly && parts.months().isEmpty() ? 53 : 5 * months)
                            + parts.placedDays().size() * months);
        }
        most = parts.monthDays().isEmpty()
                ? most
                : Math.min(most, parts.monthDays().size() * months);
        most = parts.yearDays().isEmpty()
                ? most
                : Math.min(most, parts.yearDays().size());
        return parts.weekNumbers().isEmpty()
                ? most
                : Math.min(most, parts.weekNumbers().size() * 14);
    }

    private TreeMap<Long, int[]> chosenOf(long index) {
        Chosen known = latest;
        if (known == null || known.index != index) {
            known = new Chosen(index, chosen(year.days(first(index), first(index + 1) - 1)));
            latest = known;
        }
        return known.days;
    }

    private long first(long index) {
        return switch (parts.frequency()) {
            case YEARLY -> Period.YEAR.first(index);
            case MONTHLY -> Period.MONTH.first(index);
            case WEEKLY -> index * 7 - 3 + parts.weekStart();
            default -> index;
        };
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

    private int[] pattern(long day) {
        long step = (long) parts.interval() * unit();
        long origin = startDay * Times.DAY + Math.floorDiv(startSecond, unit()) * (long) unit();
        long first = Math.floorMod(origin - day * Times.DAY, step);
        return first >= Times.DAY ? NOTHING : patterns.computeIfAbsent(first, from -> steps(from, step));
    }

    private int[] steps(long first, long step) {
        var found = new int[(int) ((Times.DAY - 1 - first) / step + 1) * times.length];
        int count = 0;
        for (long at = first; at < Times.DAY; at += step) {
            if (isWanted((int) at)) {
                for (int more : times) {
                    found[count++] = (int) at + more;
                }
            }
        }
        return count == found.length ? found : Arrays.copyOf(found, count);
    }

    /** The times of one hour or one minute, in seconds since it began. */
    private int[] within() {
        List<Integer> minutes = parts.frequency() == Frequency.HOURLY
                ? RuleYear.orElse(parts.minutes(), startSecond / 60 % 60)
                : List.of(0);
        return minutes.stream()
                .flatMapToInt(minute -> RuleYear.orElse(parts.seconds(), startSecond % 60).stream()
                        .mapToInt(second -> minute * 60 + second))
                .sorted()
                .toArray();
    }

    /** What BYSETPOS chooses of the times of one hour, minute or day. */
    private int[] chosen(int[] all) {
        return parts.positions().isEmpty()
                ? all
                : places(all.length).map(place -> all[place]).toArray();
    }

    private int countOfPlaces(int size) {
        if (parts.positions().size() == 1) {
            return Math.abs(parts.positions().get(0)) <= size ? 1 : 0;
        }
        return (int) places(size).count();
    }

    private IntStream places(int size) {
        return parts.positions().stream()
                .mapToInt(position -> position > 0 ? position - 1 : size + position)
                .filter(position -> position >= 0 && position < size)
                .sorted()
                .distinct();
    }
}
