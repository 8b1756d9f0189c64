package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.when.RuleParts.Frequency;
import org.gantrel.core.when.RuleParts.NumberedDay;
import org.gantrel.core.when.RuleParts.Stamp;

/** Says a recurrence rule as a phrase that stands for the same times, where there is one. */
final class RulePhrase {

    private static final int MOST_TIMES_LISTED = 8;

    private final Recurrence rule;
    private final RuleParts parts;
    private final LocalDate start;
    private final int startSecond;

    private RulePhrase(Recurrence rule) {
        this.rule = rule;
        this.parts = rule.parts();
        this.start = rule.firstDay();
        this.startSecond = rule.start().map(Stamp::second).orElse(0);
    }

    static Optional<Phrase> of(Recurrence rule) {
        return rule.hasExtras() ? Optional.empty() : new RulePhrase(rule).phrase();
    }

    private Optional<Phrase> phrase() {
        Optional<Rhythm> rhythm = rhythm();
        Optional<DayChoice> choice = choice();
        if (rhythm.isEmpty() || choice.isEmpty()) {
            return Optional.empty();
        }
        int[] times = rhythm.get().times().all();
        boolean wholeFirstDay = times[0] >= startSecond;
        Optional<LocalDate> until = until(times);
        if (!wholeFirstDay && rule.start().isPresent() || parts.until().isPresent() && until.isEmpty()) {
            return Optional.empty();
        }
        Optional<Integer> count = parts.count().filter(number -> number <= Bounds.MOST_TIMES);
        if (count.isEmpty() && parts.count().isPresent()) {
            return Optional.empty();
        }
        Optional<LocalDate> from = rule.start().map(stamp -> start);
        Bounds bounds =
                from.isEmpty() && until.isEmpty() && count.isEmpty() ? Bounds.NONE : new Bounds(from, until, count);
        boolean anchored = choice.get().needsFrom() || count.isPresent();
        return anchored && from.isEmpty()
                ? Optional.empty()
                : Optional.of(new Phrase(rhythm.get(), choice.get(), bounds));
    }

    /** The last whole day before the end; nothing where the end falls between the times of a day. */
    private Optional<LocalDate> until(int[] times) {
        if (parts.until().isEmpty()) {
            return Optional.empty();
        }
        Stamp until = parts.until().get();
        if (until.wholeDay()) {
            return Optional.of(LocalDate.ofEpochDay(until.day()));
        }
        long local = until.local();
        if (until.utc()) {
            var zone = rule.ownZone();
            if (zone.isEmpty()) {
                return Optional.empty();
            }
            local += ZoneClock.of(zone.get()).at(local).offset();
        }
        long day = Math.floorDiv(local, (long) Times.DAY);
        int second = (int) Math.floorMod(local, (long) Times.DAY);
        if (second >= times[times.length - 1]) {
            return Optional.of(LocalDate.ofEpochDay(day));
        }
        return second < times[0] ? Optional.of(LocalDate.ofEpochDay(day - 1)) : Optional.empty();
    }

    private Optional<Rhythm> rhythm() {
        int second = startSecond % 60;
        boolean wholeMinutes =
                parts.seconds().isEmpty() ? second == 0 : parts.seconds().equals(List.of(0));
        if (!wholeMinutes) {
            return Optional.empty();
        }
        return parts.frequency().compareTo(Frequency.DAILY) < 0 ? steps() : times();
    }

    private Optional<Rhythm> steps() {
        boolean hourly = parts.frequency() == Frequency.HOURLY;
        int step = parts.interval() * (hourly ? 60 : 1);
        int first = startSecond / 60;
        if (!parts.hours().isEmpty() || !parts.positions().isEmpty() || Rhythm.DAY % step != 0) {
            return Optional.empty();
        }
        if (!hourly) {
            return parts.minutes().isEmpty() && first % step == 0
                    ? Optional.of(new Rhythm.Steps(step, Optional.empty()))
                    : Optional.empty();
        }
        List<Integer> minutes = RuleYear.orElse(parts.minutes(), first % 60);
        if (first / 60 % parts.interval() != 0) {
            return Optional.empty();
        }
        return Optional.of(
                minutes.equals(List.of(0))
                        ? new Rhythm.Steps(step, Optional.empty())
                        : new Rhythm.Past(parts.interval(), minutes, Optional.empty()));
    }

    private Optional<Rhythm> times() {
        List<Integer> hours = RuleYear.orElse(parts.hours(), startSecond / 3600);
        List<Integer> minutes = RuleYear.orElse(parts.minutes(), startSecond / 60 % 60);
        return hours.size() * minutes.size() > MOST_TIMES_LISTED
                ? Optional.empty()
                : Optional.of(new Rhythm.At(hours.stream()
                        .flatMap(hour -> minutes.stream().map(minute -> hour * 60 + minute))
                        .toList()));
    }

    private Optional<DayChoice> choice() {
        if (!parts.weekNumbers().isEmpty()) {
            return Optional.empty();
        }
        return switch (parts.frequency()) {
            case MINUTELY, HOURLY -> parts.yearDays().isEmpty() ? limited() : Optional.empty();
            case DAILY -> daily();
            case WEEKLY -> weekly();
            case MONTHLY -> monthly(Period.MONTH);
            case YEARLY -> yearly();
        };
    }

    /** Days that are only limited, by weekday and month. */
    private Optional<DayChoice> limited() {
        if (!parts.monthDays().isEmpty()) {
            return Optional.empty();
        }
        int weekdays = parts.days().isEmpty() ? Weekdays.ALL : parts.plainWeekdays();
        return Optional.of(new DayChoice.Weekly(weekdays, months()));
    }

    private Optional<DayChoice> daily() {
        if (!parts.positions().isEmpty()) {
            return Optional.empty();
        }
        if (parts.interval() == 1) {
            return limited();
        }
        boolean plain = parts.days().isEmpty()
                && parts.months().isEmpty()
                && parts.monthDays().isEmpty();
        return plain && parts.interval() <= 366
                ? Optional.of(new DayChoice.EveryDays(parts.interval()))
                : Optional.empty();
    }

    private Optional<DayChoice> weekly() {
        int weekdays = parts.days().isEmpty() ? 1 << start.getDayOfWeek().getValue() - 1 : parts.plainWeekdays();
        if (!parts.positions().isEmpty()) {
            return Optional.empty();
        }
        if (parts.interval() == 1) {
            return Optional.of(new DayChoice.Weekly(weekdays, months()));
        }
        boolean monday = parts.weekStart() == 0 && parts.months().isEmpty() && parts.interval() <= 104;
        List<Item> items =
                CronPhrase.bits(weekdays).stream().<Item>map(Item.Weekday::new).toList();
        return monday ? inPeriod(Period.WEEK, items) : Optional.empty();
    }

    private Optional<DayChoice> yearly() {
        if (!parts.yearDays().isEmpty()) {
            boolean alone = parts.monthDays().isEmpty()
                    && parts.days().isEmpty()
                    && parts.months().isEmpty()
                    && parts.positions().isEmpty();
            return alone ? inPeriod(Period.YEAR, numbered(parts.yearDays())) : Optional.empty();
        }
        boolean monthSaid = !parts.months().isEmpty();
        if (!monthSaid && !parts.days().isEmpty()) {
            return parts.monthDays().isEmpty() ? monthly(Period.YEAR) : Optional.empty();
        }
        if (parts.interval() > 1) {
            return Optional.empty();
        }
        int months = monthSaid || !parts.monthDays().isEmpty() ? months() : 1 << start.getMonthValue() - 1;
        return items().filter(items -> parts.positions().isEmpty() || items.isEmpty())
                .map(items -> new DayChoice.InPeriod(Period.MONTH, 1, months, items));
    }

    private Optional<DayChoice> monthly(Period period) {
        boolean weekdaysOnly = parts.placedDays().isEmpty() && !parts.days().isEmpty();
        if (weekdaysOnly && parts.monthDays().isEmpty()) {
            return placedBySet(period);
        }
        if (!parts.positions().isEmpty()) {
            return Optional.empty();
        }
        return items().flatMap(items -> inPeriod(period, items));
    }

    /** Plain weekdays: all of them, or those that BYSETPOS places: the last of Monday to Friday. */
    private Optional<DayChoice> placedBySet(Period period) {
        if (parts.positions().isEmpty()) {
            return parts.interval() == 1
                    ? Optional.of(new DayChoice.Weekly(parts.plainWeekdays(), months()))
                    : Optional.empty();
        }
        boolean oneTime = parts.hours().size() <= 1
                && parts.minutes().size() <= 1
                && parts.seconds().size() <= 1;
        int weekdays = parts.plainWeekdays();
        boolean near = parts.positions().stream().allMatch(place -> Math.abs(place) <= 5);
        if (!oneTime || !near) {
            return Optional.empty();
        }
        if (weekdays == 0b0011111) {
            return inPeriod(
                    period,
                    parts.positions().stream()
                            .<Item>map(Item.NthOfMondayToFriday::new)
                            .toList());
        }
        return Integer.bitCount(weekdays) != 1
                ? Optional.empty()
                : inPeriod(
                        period,
                        parts.positions().stream()
                                .<Item>map(place -> new Item.Nth(place, Integer.numberOfTrailingZeros(weekdays)))
                                .toList());
    }

    private Optional<List<Item>> items() {
        if (!parts.days().isEmpty()
                && (!parts.monthDays().isEmpty()
                        || parts.placedDays().size() < parts.days().size())) {
            return Optional.empty();
        }
        if (!parts.days().isEmpty()) {
            boolean near = parts.days().stream().allMatch(day -> Math.abs(day.place()) <= 5);
            return near ? Optional.of(placed(parts.days())) : Optional.empty();
        }
        return Optional.of(numbered(RuleYear.orElse(parts.monthDays(), start.getDayOfMonth())));
    }

    private static List<Item> placed(List<NumberedDay> days) {
        return days.stream()
                .<Item>map(day -> new Item.Nth(day.place(), day.weekday()))
                .toList();
    }

    private static List<Item> numbered(List<Integer> numbers) {
        return Stream.concat(
                        numbers.stream().filter(n -> n > 0).<Item>map(Item.DayNumber::new),
                        numbers.stream().filter(n -> n < 0).<Item>map(n -> new Item.BeforeLast(-1 - n)))
                .toList();
    }

    private Optional<DayChoice> inPeriod(Period period, List<Item> items) {
        int most = period == Period.WEEK ? 104 : period == Period.MONTH ? 48 : 20;
        boolean possible = parts.interval() <= most
                && (parts.months().isEmpty() || parts.interval() == 1 && period == Period.MONTH);
        return possible
                ? Optional.of(new DayChoice.InPeriod(period, parts.interval(), months(), new ArrayList<>(items)))
                : Optional.empty();
    }

    private int months() {
        return parts.months().isEmpty()
                ? PeriodDays.ALL_MONTHS
                : parts.months().stream().map(month -> 1 << month - 1).reduce(0, (one, other) -> one | other);
    }
}
