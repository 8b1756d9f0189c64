package org.gantrel.core.when;

import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.zone.ZoneOffsetTransition;
import java.time.zone.ZoneRules;
import java.util.List;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.LongConsumer;

/**
 * The clock of a zone: turns local times into instants under the rules for summer time. A local time that does not exist
 * moves forward by the length of the gap (RFC 5545, 3.3.5); one that exists twice counts once, the first, unless both are
 * asked for. Between two changes of the offset it is plain arithmetic, so the span that was looked at last is remembered.
 */
final class ZoneClock {

    private static final Map<ZoneId, ZoneClock> KNOWN = new ConcurrentHashMap<>();
    private static final long AGES = 400L * 366 * 86_400;

    /**
     * A time in which the offset stays the same, in seconds since 1970-01-01T00:00Z; {@code until} is not part of it.
     *
     * @param steadyFrom the first local time, in seconds, from which on each stands for one instant
     * @param steadyTo where that ends
     */
    record Span(long from, long until, int offset, long steadyFrom, long steadyTo) {

        /** Whether a local day, the one before and the one after lie within it, so that no change of offset touches it. */
        boolean isFarAround(long day) {
            return (day - 1) * Times.DAY - offset >= from && (day + 2) * Times.DAY - offset <= until;
        }
    }

    /** The offsets, in seconds, between which all those lie that a day's local times may have. */
    record Offsets(int least, int most) {}

    private final ZoneRules rules;
    private volatile Span last = new Span(0, 0, 0, 0, 0);

    private ZoneClock(ZoneRules rules) {
        this.rules = rules;
    }

    static ZoneClock of(ZoneId zone) {
        ZoneClock known = KNOWN.get(zone);
        return known != null ? known : KNOWN.computeIfAbsent(zone, key -> new ZoneClock(key.getRules()));
    }

    /** The span that an instant lies in. */
    Span at(long second) {
        Span span = last;
        if (second < span.from || second >= span.until) {
            span = find(second);
            last = span;
        }
        return span;
    }

    private Span find(long second) {
        Instant instant = Instant.ofEpochSecond(second);
        ZoneOffsetTransition before = rules.previousTransition(instant.plusSeconds(1));
        ZoneOffsetTransition after = rules.nextTransition(instant);
        int offset = rules.getOffset(instant).getTotalSeconds();
        long from = before == null ? second - AGES : before.getInstant().getEpochSecond();
        long until = after == null ? second + AGES : after.getInstant().getEpochSecond();
        int earlier = before == null ? offset : before.getOffsetBefore().getTotalSeconds();
        int later = after == null ? offset : after.getOffsetAfter().getTotalSeconds();
        return new Span(from, until, offset, from + Math.max(earlier, offset), until + Math.min(offset, later));
    }

    /** What the offset may be on a local day; no zone is further than 18 hours from UTC. */
    Offsets around(long day) {
        long until = (day + 3) * Times.DAY;
        Span span = at((day - 2) * Times.DAY);
        int least = span.offset;
        int most = span.offset;
        while (span.until < until) {
            span = at(span.until);
            least = Math.min(least, span.offset);
            most = Math.max(most, span.offset);
        }
        return new Offsets(least, most);
    }

    /** The local day of an instant. */
    long dayOf(long second) {
        return Math.floorDiv(second + at(second).offset, (long) Times.DAY);
    }

    /** The second of the local day of an instant. */
    int secondOf(long instant) {
        return (int) Math.floorMod(instant + at(instant).offset, (long) Times.DAY);
    }

    /** Whether the offset does not change on a local day, nor on those beside it. */
    boolean isSteady(long day) {
        return at(day * Times.DAY).isFarAround(day);
    }

    /**
     * The last day, from the given one on, before one that has a local time which does not exist or exists twice; the day
     * before the given one where that may have such a time itself.
     */
    long steadyUntil(long day) {
        Span span = at(day * Times.DAY);
        return day * Times.DAY >= span.steadyFrom
                ? Math.max(day, Math.floorDiv(span.steadyTo, (long) Times.DAY)) - 1
                : day - 1;
    }

    /** The instant at which a local day begins. */
    long startOf(long day) {
        return instant(day, 0);
    }

    /** The instant of a local time; the first where it exists twice. */
    long instant(long day, int secondOfDay) {
        LocalDateTime local = local(day, secondOfDay);
        List<ZoneOffset> offsets = rules.getValidOffsets(local);
        ZoneOffset offset = offsets.isEmpty() ? rules.getTransition(local).getOffsetBefore() : offsets.get(0);
        return local.toEpochSecond(offset);
    }

    /** Gives the one instant of a local time, or both where it exists twice and both count. */
    void instants(long day, int secondOfDay, Both both, LongConsumer into) {
        into.accept(instant(day, secondOfDay));
        LocalDateTime local = local(day, secondOfDay);
        List<ZoneOffset> offsets = rules.getValidOffsets(local);
        if (both == Both.COUNT && offsets.size() > 1) {
            into.accept(local.toEpochSecond(offsets.get(1)));
        }
    }

    /** Whether both passes of a local time that exists twice count. */
    enum Both {
        COUNT,
        ARE_ONE
    }

    private static LocalDateTime local(long day, int secondOfDay) {
        return LocalDateTime.ofEpochSecond(day * Times.DAY + secondOfDay, 0, ZoneOffset.UTC);
    }
}
