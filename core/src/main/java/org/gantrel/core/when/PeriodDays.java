package org.gantrel.core.when;

import java.util.List;

/**
 * Days that are told by their place in every n-th period.
 *
 * @param months for months, bit 0 for January to bit 11 for December
 * @param anchor a day in a period that counts
 */
record PeriodDays(Period period, int every, int months, long anchor, List<Item> items, DayShift shift, DaySet working)
        implements DaySet {

    static final int ALL_MONTHS = 0xFFF;

    /**
     * {@inheritDoc}
     *
     * <p>The shift keeps days in order, so the first period that has a day on or after the given one has the first such.
     */
    @Override
    public long next(long day) {
        long index = period.index(day - shift.reach());
        if (every > 1) {
            long from = period.index(anchor);
            index = Math.max(index, from);
            index += Math.floorMod(from - index, (long) every);
        }
        long last = index + (period.cycle + 24L) * every;
        for (; index < last; index += every) {
            if (period == Period.MONTH && (months >>> Math.floorMod(index, 12L) & 1) == 0) {
                continue;
            }
            long found = first(index, day);
            if (found != NEVER) {
                return found;
            }
        }
        return NEVER;
    }

    private long first(long index, long day) {
        long first = period.first(index);
        long last = period.first(index + 1) - 1;
        if (!shift.isNone() || last >= day) {
            long best = NEVER;
            for (int i = 0; i < items.size(); i++) {
                long found = items.get(i).in(first, last, working);
                if (found != Item.NONE) {
                    long shifted = shift.apply(found, working);
                    if (shifted >= day && shifted < best) {
                        best = shifted;
                    }
                }
            }
            return best;
        }
        return NEVER;
    }
}
