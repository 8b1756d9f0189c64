package org.gantrel.core.notification;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.function.Predicate;
import org.gantrel.core.notification.NotificationRule.Urgency;

/**
 * When somebody is not to be disturbed.
 *
 * @param zone where they are
 * @param from the local time at which quiet begins; the same as {@code until} for never on days of work
 * @param until the local time at which it ends, on the next day where that is earlier
 * @param wakes the least urgency that comes through all the same
 */
public record QuietHours(ZoneId zone, LocalTime from, LocalTime until, Urgency wakes) {

    /** Nobody is quiet for longer: a calendar without days of work must not swallow what is to be told. */
    private static final Duration LONGEST = Duration.ofDays(14);

    /** For who has said nothing: told at once. */
    public static final QuietHours NONE =
            new QuietHours(ZoneId.of("UTC"), LocalTime.MIDNIGHT, LocalTime.MIDNIGHT, Urgency.CALM);

    /**
     * When somebody may be told of something that has come up now.
     *
     * @param working the days on which they work; on others it is quiet all day
     */
    public Instant release(Instant now, Urgency urgency, Predicate<LocalDate> working) {
        if (urgency.compareTo(wakes) >= 0) {
            return now;
        }
        Instant at = now;
        while (isQuiet(at, working) && Duration.between(now, at).compareTo(LONGEST) < 0) {
            at = nextBoundary(at);
        }
        return at;
    }

    /** Whether a moment is in quiet hours, or on a day without work. */
    public boolean isQuiet(Instant at, Predicate<LocalDate> working) {
        var local = at.atZone(zone);
        if (!working.test(local.toLocalDate())) {
            return true;
        }
        LocalTime time = local.toLocalTime();
        return from.isBefore(until)
                ? !time.isBefore(from) && time.isBefore(until)
                : from.isAfter(until) && (!time.isBefore(from) || time.isBefore(until));
    }

    /** The next moment at which quiet may begin or end. */
    private Instant nextBoundary(Instant at) {
        LocalDate day = at.atZone(zone).toLocalDate();
        Instant midnight = day.plusDays(1).atStartOfDay(zone).toInstant();
        Instant end = day.atTime(until).atZone(zone).toInstant();
        return end.isAfter(at) && end.isBefore(midnight) ? end : midnight;
    }
}
