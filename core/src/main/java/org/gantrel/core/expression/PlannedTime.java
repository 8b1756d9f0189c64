package org.gantrel.core.expression;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;

/**
 * The time that a run was planned for, in the zone of its schedule. Values are worked out from it and not from the
 * clock, so that a run that starts late, or again, still covers the right day.
 */
public record PlannedTime(Instant at, ZoneId zone) {

    /** The planned day by the local calendar. */
    public LocalDate date() {
        return at.atZone(zone).toLocalDate();
    }
}
