package org.gantrel.core.when;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.format.TextStyle;
import java.util.List;
import java.util.Locale;
import org.gantrel.core.text.Words;

/** A day that is told by its place in a period. */
sealed interface Item {

    /** No such day in the period. */
    long NONE = Long.MIN_VALUE;

    /** The day in the period from {@code first} to {@code last}; {@link #NONE} where it has none. */
    long in(long first, long last, DaySet working);

    /** The words for it. */
    String words();

    /** How far from the day itself it is; no distance for most. */
    default DayShift shift() {
        return DayShift.NONE;
    }

    /** The day that it is so far from. */
    default Item unshifted() {
        return this;
    }

    /** Items are written in this order. */
    default int rank() {
        return List.of(
                        Weekday.class,
                        Nth.class,
                        NthWorking.class,
                        NthOfMondayToFriday.class,
                        Nearest.class,
                        DayNumber.class,
                        BeforeLast.class,
                        Easter.class)
                .indexOf(getClass());
    }

    /** A day of the week, of which a week has one. Monday is 0. */
    record Weekday(int weekday) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            long day = first + Math.floorMod(weekday - Weekdays.of(first), 7);
            return day <= last ? day : NONE;
        }

        @Override
        public String words() {
            return name(weekday);
        }
    }

    /** A day by its number, the first being 1. */
    record DayNumber(int number) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            return first + number - 1 <= last ? first + number - 1 : NONE;
        }

        @Override
        public String words() {
            return "day " + number;
        }
    }

    /** The last day, or some days before it. */
    record BeforeLast(int days) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            return last - days >= first ? last - days : NONE;
        }

        @Override
        public String words() {
            return (days == 0 ? "" : Words.count(days, "day") + " before the ") + "last day";
        }
    }

    /** The first, second ... or, counted from the end by negative numbers, the last of a weekday. */
    record Nth(int place, int weekday) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            long day;
            if (place > 0) {
                day = first + Math.floorMod(weekday - Weekdays.of(first), 7) + (place - 1) * 7L;
            } else {
                day = last - Math.floorMod(Weekdays.of(last) - weekday, 7) + (place + 1) * 7L;
            }
            return day >= first && day <= last ? day : NONE;
        }

        @Override
        public String words() {
            return Ordinals.word(place) + " " + name(weekday);
        }
    }

    /** The first, second ... or last working day. */
    record NthWorking(int place) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            return nth(place, first, last, working);
        }

        @Override
        public String words() {
            return Ordinals.word(place) + " working day";
        }
    }

    /** The first, second ... or last day that is no Saturday and no Sunday, whatever a calendar says of it. */
    record NthOfMondayToFriday(int place) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            return nth(place, first, last, DaySet.MONDAY_TO_FRIDAY);
        }

        @Override
        public String words() {
            return Ordinals.word(place) + " weekday";
        }
    }

    /** The day from Monday to Friday that is nearest to a date, within the period. */
    record Nearest(int number) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            long day = first + number - 1;
            if (day > last) {
                return NONE;
            }
            return switch (Weekdays.of(day)) {
                case 5 -> day == first ? day + 2 : day - 1;
                case 6 -> day == last ? day - 2 : day + 1;
                default -> day;
            };
        }

        @Override
        public String words() {
            return "weekday nearest to day " + number;
        }
    }

    /** Easter Sunday of the Western churches; the computation is Meeus's, Astronomical Algorithms, chapter 8. */
    record Easter() implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            int year = LocalDate.ofEpochDay(first).getYear();
            int golden = year % 19;
            int century = year / 100;
            int rest = year % 100;
            int lift = (century - (century + 8) / 25 + 1) / 3;
            int moon = (19 * golden + century - century / 4 - lift + 15) % 30;
            int week = (32 + 2 * (century % 4) + 2 * (rest / 4) - moon - rest % 4) % 7;
            int late = (golden + 11 * moon + 22 * week) / 451;
            int sum = moon + week - 7 * late + 114;
            long day = LocalDate.of(year, sum / 31, sum % 31 + 1).toEpochDay();
            return day >= first && day <= last ? day : NONE;
        }

        @Override
        public String words() {
            return "Easter";
        }
    }

    /** So many days, or working days, before or after a day. */
    record Shifted(DayShift shift, Item unshifted) implements Item {
        @Override
        public long in(long first, long last, DaySet working) {
            long day = unshifted.in(first, last, working);
            return day == NONE ? NONE : shift.apply(day, working);
        }

        @Override
        public String words() {
            return shift.words() + unshifted.words();
        }
    }

    private static long nth(int place, long first, long last, DaySet days) {
        if (place > 0) {
            long day = days.next(first);
            for (int i = 1; i < place && day <= last; i++) {
                day = days.next(day + 1);
            }
            return day <= last ? day : NONE;
        }
        int seen = 0;
        for (long day = last; day >= first; day--) {
            if (days.holds(day) && --seen == place) {
                return day;
            }
        }
        return NONE;
    }

    static String name(int weekday) {
        return DayOfWeek.of(weekday + 1).getDisplayName(TextStyle.FULL, Locale.ENGLISH);
    }
}
