package org.gantrel.icalendar;

import java.time.LocalDate;
import java.util.Optional;

/**
 * Days of an iCalendar file.
 *
 * @param rule {@code DTSTART}, {@code RRULE} and the like as text, where the event comes again
 */
public record DayEvent(LocalDate first, LocalDate last, String label, Optional<String> rule) {}
