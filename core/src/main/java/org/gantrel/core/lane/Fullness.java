package org.gantrel.core.lane;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;

/** How full a lane was, hour by hour. */
public final class Fullness {

    private static final Duration HOUR = Duration.ofHours(1);

    /** So many places that were taken from one moment until another. */
    public record Span(Instant from, Instant until, int places) {}

    /**
     * One hour.
     *
     * @param taken how many places were taken, on the average of the hour
     * @param most how many were taken at once
     */
    public record Hour(Instant at, double taken, int most) {}

    private record Change(Instant at, int places) {}

    private Fullness() {}

    /** So many hours from a moment on. Places that one gives back and another takes at the same moment are not taken twice. */
    public static List<Hour> hours(Collection<Span> spans, Instant begin, int count) {
        var changes = new ArrayList<Change>();
        for (Span span : spans) {
            if (span.from().isBefore(span.until())) {
                changes.add(new Change(span.from(), span.places()));
                changes.add(new Change(span.until(), -span.places()));
            }
        }
        changes.sort(Comparator.comparing(Change::at).thenComparing(Change::places));
        var hours = new ArrayList<Hour>();
        int next = 0;
        int taken = 0;
        for (; next < changes.size() && !changes.get(next).at().isAfter(begin); next++) {
            taken += changes.get(next).places();
        }
        for (int i = 0; i < count; i++) {
            Instant from = begin.plus(HOUR.multipliedBy(i));
            Instant end = from.plus(HOUR);
            Instant at = from;
            double time = 0;
            int most = taken;
            for (; next < changes.size() && changes.get(next).at().isBefore(end); next++) {
                time += taken * seconds(at, changes.get(next).at());
                at = changes.get(next).at();
                taken += changes.get(next).places();
                most = Math.max(most, taken);
            }
            time += taken * seconds(at, end);
            hours.add(new Hour(from, time / HOUR.toSeconds(), most));
            // what changes on the full hour belongs to the next one
            for (; next < changes.size() && changes.get(next).at().equals(end); next++) {
                taken += changes.get(next).places();
            }
        }
        return hours;
    }

    private static double seconds(Instant from, Instant to) {
        return Duration.between(from, to).toMillis() / 1_000.0;
    }
}
