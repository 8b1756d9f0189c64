package org.gantrel.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;

/** Finds the times in which more would run than there are places. Pure. */
public final class Crowds {

    /** A run that is to come, from its start to its probable end. */
    public record Span(Instant from, Instant until) {}

    /**
     * A time in which runs will probably wait for each other.
     *
     * @param most how many are expected at once
     * @param places how many run at once
     */
    public record Crowd(Instant from, Instant until, int most, int places) {}

    private Crowds() {}

    /** Goes through all beginnings and ends in order and counts what runs between them. */
    public static List<Crowd> of(List<Span> spans, int places) {
        var changes = new TreeMap<Instant, Integer>();
        for (Span span : spans) {
            changes.merge(span.from(), 1, Integer::sum);
            changes.merge(span.until(), -1, Integer::sum);
        }
        var crowds = new ArrayList<Crowd>();
        int running = 0;
        int most = 0;
        Instant since = null;
        for (Map.Entry<Instant, Integer> change : changes.entrySet()) {
            running += change.getValue();
            if (running > places) {
                since = since == null ? change.getKey() : since;
                most = Math.max(most, running);
            } else if (since != null) {
                crowds.add(new Crowd(since, change.getKey(), most, places));
                since = null;
                most = 0;
            }
        }
        return crowds;
    }
}
