package org.gantrel.core.when;

import org.gantrel.core.text.Words;

/**
 * So many days, or working days, after a day; a negative number means before it.
 *
 * @param working whether working days alone are counted
 */
record DayShift(int days, boolean working) {

    static final DayShift NONE = new DayShift(0, false);

    /** The most days that a shift is by. */
    static final int MOST = 250;

    boolean isNone() {
        return days == 0;
    }

    /** How many days ahead of a day to look for those that are shifted on to it; closing days are allowed for. */
    int reach() {
        return days <= 0 ? 0 : working ? days * 2 + 60 : days;
    }

    long apply(long day, DaySet workingDays) {
        if (!working) {
            return day + days;
        }
        long at = day;
        for (int i = 0; i < Math.abs(days) && at != DaySet.NEVER; i++) {
            at = days > 0 ? workingDays.next(at + 1) : workingDays.previous(at - 1, 400);
        }
        return at;
    }

    /** What stands before the day that is shifted; empty where nothing is. */
    String words() {
        return isNone()
                ? ""
                : Words.count(Math.abs(days), working ? "working day" : "day") + (days < 0 ? " before " : " after ");
    }
}
