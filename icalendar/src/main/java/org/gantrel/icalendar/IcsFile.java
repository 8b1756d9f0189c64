package org.gantrel.icalendar;

import java.util.List;

/**
 * What an iCalendar file says of days.
 *
 * @param remarks what is in the file and was not taken over, in words
 */
public record IcsFile(List<DayEvent> events, List<String> remarks) {}
