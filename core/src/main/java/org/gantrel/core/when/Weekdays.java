package org.gantrel.core.when;

/**
 * Chosen days of the week.
 *
 * @param mask bit 0 for Monday to bit 6 for Sunday
 */
record Weekdays(int mask) implements DaySet {

    static final int ALL = 0b1111111;

    static Weekdays of(int mask) {
        return new Weekdays(mask & ALL);
    }

    /** The weekday of a day, Monday being 0. 1970-01-01 was a Thursday. */
    static int of(long day) {
        return (int) Math.floorMod(day + 3, 7L);
    }

    @Override
    public long next(long day) {
        if (mask == 0) {
            return NEVER;
        }
        int weekday = of(day);
        int turned = (mask >>> weekday | mask << 7 - weekday) & ALL;
        return day + Integer.numberOfTrailingZeros(turned);
    }

    @Override
    public boolean holds(long day) {
        return (mask >>> of(day) & 1) == 1;
    }
}
