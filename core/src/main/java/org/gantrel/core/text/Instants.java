package org.gantrel.core.text;

import java.time.Instant;
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
}
