package org.gantrel.core.when;

import java.time.LocalDate;
import java.time.Month;
import java.time.format.TextStyle;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.core.text.Words;

/** On which days a phrase comes round. */
sealed interface DayChoice {

    DayChoice EVERY_DAY = new Weekly(Weekdays.ALL, PeriodDays.ALL_MONTHS);

    /** The days themselves; {@code from} is the first day of the phrase, from which every n-th is counted. */
    DaySet days(long from, DaySet working);

    /** Whether it cannot be understood without a first day. */
    default boolean needsFrom() {
        return false;
    }

    /** What stands before the times: "every Monday". */
    String head();

    /** What stands after even steps: " on Monday"; empty for every day. */
    String tail();

    /** What is odd about these days. */
    default List<String> cautions() {
        return List.of();
    }

    /** What follows the times: " in January". */
    default String season() {
        return "";
    }

    /** Days of the week, in some months. */
    record Weekly(int weekdays, int months) implements DayChoice {
        @Override
        public DaySet days(long from, DaySet working) {
            return inMonths(Weekdays.of(weekdays), months);
        }

        @Override
        public String head() {
            return "every "
                    + switch (weekdays) {
                        case Weekdays.ALL -> "day";
                        case 0b0011111 -> "weekday";
                        case 0b1100000 -> "weekend day";
                        default -> names();
                    };
        }

        @Override
        public String tail() {
            return switch (weekdays) {
                case Weekdays.ALL -> "";
                case 0b0011111 -> " on weekdays";
                case 0b1100000 -> " on weekend days";
                default -> " on " + names();
            };
        }

        private String names() {
            return Words.list(weekdayNames(weekdays).toList());
        }

        @Override
        public String season() {
            return in(months);
        }
    }

    /** Every working day and some days of the week besides, in some months. */
    record Working(int months, int weekdays) implements DayChoice {
        @Override
        public DaySet days(long from, DaySet working) {
            DaySet more = Weekdays.of(weekdays);
            return inMonths(weekdays == 0 ? working : new Either(working, more), months);
        }

        @Override
        public String head() {
            return "every " + names("working day");
        }

        @Override
        public String tail() {
            return " on " + names("working days");
        }

        private String names(String first) {
            return Words.list(
                    Stream.concat(Stream.of(first), weekdayNames(weekdays)).toList());
        }

        @Override
        public String season() {
            return in(months);
        }
    }

    /** Every n-th day from the first on. */
    record EveryDays(int every) implements DayChoice {
        @Override
        public DaySet days(long from, DaySet working) {
            return day -> day <= from ? from : day + Math.floorMod(from - day, (long) every);
        }

        @Override
        public boolean needsFrom() {
            return true;
        }

        @Override
        public String head() {
            return "every " + every + " days";
        }

        @Override
        public String tail() {
            return " on " + head();
        }
    }

    /** Days by their place in a period, or so many days before or after those. */
    record InPeriod(Period period, int every, int months, List<Item> items) implements DayChoice {

        /** An offset holds for what follows it, so days without one stand first. */
        private static final Comparator<Item> AS_PRINTED = Comparator.comparing(
                        (Item item) -> !item.shift().isNone())
                .thenComparing(item -> item.shift().working())
                .thenComparing(item -> item.shift().days())
                .thenComparing(item -> item.unshifted().rank())
                .thenComparing(InPeriod::place);

        public InPeriod {
            items = items.stream()
                    .map(InPeriod::plain)
                    .distinct()
                    .sorted(AS_PRINTED)
                    .toList();
        }

        /** Days before the last day are an item of their own. */
        private static Item plain(Item item) {
            DayShift shift = item.shift();
            return item.unshifted() instanceof Item.BeforeLast last && !shift.working() && shift.days() < 0
                    ? new Item.BeforeLast(last.days() - shift.days())
                    : item;
        }

        private static int place(Item shifted) {
            Item item = shifted.unshifted();
            if (item instanceof Item.Nth nth) {
                return fromEnd(nth.place()) * 10 + nth.weekday();
            }
            if (item instanceof Item.NthWorking nth) {
                return fromEnd(nth.place());
            }
            if (item instanceof Item.NthOfMondayToFriday nth) {
                return fromEnd(nth.place());
            }
            if (item instanceof Item.DayNumber day) {
                return day.number();
            }
            if (item instanceof Item.Nearest day) {
                return day.number();
            }
            if (item instanceof Item.BeforeLast day) {
                return -day.days();
            }
            return item instanceof Item.Weekday day ? day.weekday() : 0;
        }

        private static int fromEnd(int place) {
            return place > 0 ? place : 1000 + place;
        }

        @Override
        public DaySet days(long from, DaySet working) {
            DaySet all = null;
            for (DayShift shift :
                    items.stream().map(Item::shift).collect(Collectors.toCollection(LinkedHashSet::new))) {
                List<Item> alike = items.stream()
                        .filter(item -> item.shift().equals(shift))
                        .map(Item::unshifted)
                        .toList();
                DaySet days = new PeriodDays(period, every, months, from, alike, shift, working);
                all = all == null ? days : new Either(all, days);
            }
            return all;
        }

        @Override
        public boolean needsFrom() {
            return every > 1;
        }

        @Override
        public String head() {
            return every == 1
                    ? itemWords() + ofPeriod()
                    : "every " + every + " " + period.word() + "s on " + itemWords();
        }

        @Override
        public String tail() {
            return " on " + itemWords() + ofPeriod();
        }

        @Override
        public List<String> cautions() {
            if (period != Period.MONTH) {
                return List.of();
            }
            return items.stream()
                    .filter(item -> item instanceof Item.DayNumber day && day.number() > 28)
                    .map(item -> ((Item.DayNumber) item).number())
                    .flatMap(number -> missing(number).stream())
                    .toList();
        }

        private Optional<String> missing(int number) {
            int without = IntStream.range(0, 12)
                    .filter(month -> (months >>> month & 1) == 1)
                    .filter(month -> Month.of(month + 1).minLength() < number)
                    .map(month -> 1 << month)
                    .sum();
            int never = IntStream.range(0, 12)
                    .filter(month ->
                            (without >>> month & 1) == 1 && Month.of(month + 1).maxLength() < number)
                    .map(month -> 1 << month)
                    .sum();
            String end = "; the last day of a month is 'last day'";
            return without == 0
                    ? Optional.empty()
                    : Optional.of("day " + number
                            + (never == without ? " never comes in " : " does not come every year in ")
                            + monthNames(without) + end);
        }

        private String ofPeriod() {
            if (months != PeriodDays.ALL_MONTHS) {
                return " of " + monthNames(months);
            }
            return " of every " + (every == 1 ? period.word() : Words.count(every, period.word()));
        }

        private String itemWords() {
            if (items.size() > 1 && items.stream().allMatch(Item.DayNumber.class::isInstance)) {
                return "day "
                        + Words.list(items.stream()
                                .map(item -> String.valueOf(((Item.DayNumber) item).number()))
                                .toList());
            }
            return Words.list(items.stream().map(Item::words).toList());
        }
    }

    /** Days of one set or of another. */
    record Either(DaySet one, DaySet other) implements DaySet {
        @Override
        public long next(long day) {
            return Math.min(one.next(day), other.next(day));
        }

        @Override
        public boolean holds(long day) {
            return one.holds(day) || other.holds(day);
        }
    }

    /** One day. */
    record Once(LocalDate date) implements DayChoice {
        @Override
        public DaySet days(long from, DaySet working) {
            long only = date.toEpochDay();
            return day -> day <= only ? only : DaySet.NEVER;
        }

        @Override
        public String head() {
            return "once on " + date;
        }

        @Override
        public String tail() {
            return " on " + date;
        }
    }

    private static DaySet inMonths(DaySet days, int months) {
        return months == PeriodDays.ALL_MONTHS ? days : new InMonths(days, months);
    }

    /** Those days that lie in some months; bit 0 is January. */
    record InMonths(DaySet days, int months) implements DaySet {
        @Override
        public long next(long day) {
            long at = days.next(day);
            for (int steps = 0; at != NEVER && steps < 10_000; steps++) {
                LocalDate date = LocalDate.ofEpochDay(at);
                if ((months >>> date.getMonthValue() - 1 & 1) == 1) {
                    return at;
                }
                at = days.next(date.withDayOfMonth(1).plusMonths(1).toEpochDay());
            }
            return NEVER;
        }
    }

    private static Stream<String> weekdayNames(int weekdays) {
        return IntStream.range(0, 7).filter(day -> (weekdays >>> day & 1) == 1).mapToObj(Item::name);
    }

    private static String in(int months) {
        return months == PeriodDays.ALL_MONTHS ? "" : " in " + monthNames(months);
    }

    static String monthNames(int months) {
        return Words.list(IntStream.range(0, 12)
                .filter(month -> (months >>> month & 1) == 1)
                .mapToObj(month -> Month.of(month + 1).getDisplayName(TextStyle.FULL, Locale.ENGLISH))
                .toList());
    }
}
