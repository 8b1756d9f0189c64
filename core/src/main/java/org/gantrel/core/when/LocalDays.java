package org.gantrel.core.when;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.zone.ZoneOffsetTransition;
import java.time.zone.ZoneRules;
import java.util.List;
import java.util.TreeSet;

/**
 * Turns local times of one day into instants under the rules for summer time: a local time that does not exist moves
 * forward by the length of the gap (RFC 5545, 3.3.5); one that exists twice counts once, the first, unless the hour is
 * left open.
 */
final class LocalDays {

    private LocalDays() {}

    /** Whether the offset of a zone stays the same from the start to the end of a day. */
    static boolean isPlain(LocalDate day, ZoneId zone) {
        ZoneRules rules = zone.getRules();
        if (rules.isFixedOffset()) {
            return true;
        }
        LocalDateTime start = day.atStartOfDay();
        List<ZoneOffset> offsets = rules.getValidOffsets(start);
        if (offsets.size() != 1) {
            return false;
        }
        Instant begin = start.toInstant(offsets.get(0));
        ZoneOffsetTransition next = rules.nextTransition(begin.minusSeconds(1));
        return next == null || !next.getInstant().isBefore(begin.plusSeconds(86_400));
    }

    /** The instants that one local time stands for: one, or two where it exists twice and the hour is open. */
    static void addInstants(LocalDate day, LocalTime time, ZoneId zone, boolean hourOpen, TreeSet<Instant> into) {
        LocalDateTime local = day.atTime(time);
        into.add(local.atZone(zone).toInstant());
        List<ZoneOffset> offsets = zone.getRules().getValidOffsets(local);
        if (hourOpen && offsets.size() > 1) {
            into.add(local.toInstant(offsets.get(1)));
        }
    }
}
