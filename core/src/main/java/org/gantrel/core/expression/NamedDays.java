package org.gantrel.core.expression;

import org.gantrel.core.when.DaySet;

/** The working days of calendars, by the calendar's name. */
@FunctionalInterface
public interface NamedDays {

    /** Where no calendars are known. */
    NamedDays NONE = name -> {
        throw new ExpressionException("there is no calendar '" + name + "'");
    };

    /**
     * The open days of a calendar.
     *
     * @throws ExpressionException where there is none of that name
     */
    DaySet days(String calendar);
}
