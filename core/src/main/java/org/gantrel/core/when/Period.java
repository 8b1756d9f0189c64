package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.Locale;

/** A stretch of the calendar that days are counted in. Periods are numbered without a gap. */
enum Period {
    WEEK(20_871) {
        @Override
        long index(long day) {
            return Math.floorDiv(day + 3, 7L);
        }

        @Override
        long first(long index) {
            return index * 7 - 3;
        }
    },
    MONTH(4_800) {
        @Override
        long index(long day) {
            LocalDate date = LocalDate.ofEpochDay(day);
            return date.getYear() * 12L + date.getMonthValue() - 1;
        }

        @Override
        long first(long index) {
            return LocalDate.of((int) Math.floorDiv(index, 12L), (int) Math.floorMod(index, 12L) + 1, 1)
                    .toEpochDay();
        }
    },
    QUARTER(1_600) {
        @Override
        long index(long day) {
            return Math.floorDiv(MONTH.index(day), 3L);
        }

        @Override
        long first(long index) {
            return MONTH.first(index * 3);
        }
    },
    YEAR(400) {
        @Override
        long index(long day) {
            return LocalDate.ofEpochDay(day).getYear();
        }

        @Override
        long first(long index) {
            return LocalDate.of((int) index, 1, 1).toEpochDay();
        }
    };

    /** How many of them the Gregorian calendar takes to repeat itself: 400 years, which are a whole number of weeks. */
    final int cycle;

    Period(int cycle) {
        this.cycle = cycle;
    }

    /** The number of the period that a day lies in. Weeks begin on Monday. */
    abstract long index(long day);

    /** The first day of a period. */
    abstract long first(long index);

    String word() {
        return name().toLowerCase(Locale.ROOT);
    }
}
