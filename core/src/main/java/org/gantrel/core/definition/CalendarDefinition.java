package org.gantrel.core.definition;

import org.gantrel.core.calendar.Calendar;

/**
 * A calendar as it was read from a document of a definition file.
 *
 * @param line the line of the file on which the document begins, counted from 1
 * @param text the document itself, kept as it was written
 */
public record CalendarDefinition(Calendar calendar, int line, String text) {}
