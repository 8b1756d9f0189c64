package org.gantrel.core.text;

import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.format.DateTimeParseException;

/** Instants as calls name them: those of RFC 3339, whose years have four digits. */
public final class Instants {

    private static final Instant FIRST = Instant.parse("0001-01-01T00:00:00Z");
    private static final Instant LAST = Instant.parse("9999-12-31T23:59:59.999Z");

    private Instants() {}

    /**
     * Reads an instant.
     *
     * @throws IllegalArgumentException saying what would be right
     */
    public static Instant parse(String text) {
        try {
            Instant instant = Instant.parse(text);
            if (!instant.isBefore(FIRST) && !instant.isAfter(LAST)) {
                return instant;
            }
        } catch (DateTimeParseException e) {
            throw new IllegalArgumentException("an instant such as 2026-11-26T02:30:00Z would be right", e);
        }
        throw new IllegalArgumentException("an instant of the years 0001 to 9999 would be right");
    }

    /**
     * Reads an instant, or a local time of a zone such as {@code 2026-11-26T02:30}. One that the zone leaves out is moved
     * forward by the length of the gap, of one that it has twice the first is meant.
     *
     * @throws IllegalArgumentException saying what would be right
     */
    public static Instant parse(String text, ZoneId zone) {
        try {
            return parse(LocalDateTime.parse(text.strip().replaceFirst(" +", "T"))
                    .atZone(zone)
                    .toInstant()
                    .toString());
        } catch (DateTimeParseException e) {
            try {
                return parse(text);
            } catch (IllegalArgumentException wrong) {
                throw new IllegalArgumentException(
                        wrong.getMessage() + ", or a local time of " + zone + " such as 2026-11-26T02:30", e);
            }
        }
    }
}
