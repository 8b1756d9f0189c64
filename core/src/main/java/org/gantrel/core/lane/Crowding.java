package org.gantrel.core.lane;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/**
 * Notices that a lane is crowded: a run has waited for a place in it for ten minutes on end. It is told once, and again only
 * after a time in which nobody waited that long.
 */
public final class Crowding {

    public static final Duration LONG = Duration.ofMinutes(10);

    /**
     * A lane that has become crowded.
     *
     * @param waiting how many runs wait for places in it
     * @param longest for how long the first of them has
     * @param first which that is
     */
    public record Crowd(String lane, int waiting, Duration longest, long first) {}

    private final Map<String, Map<Long, Instant>> since = new HashMap<>();
    private final Set<String> told = new HashSet<>();

    /**
     * Looks at who waits now.
     *
     * @param waiting the runs that wait for places, by lane
     * @return the lanes that have become crowded since the last look, in the order of their names
     */
    public List<Crowd> look(Map<String, ? extends Collection<Long>> waiting, Instant now) {
        since.keySet().retainAll(waiting.keySet());
        var crowds = new ArrayList<Crowd>();
        waiting.forEach((lane, runs) -> {
            Map<Long, Instant> known = since.computeIfAbsent(lane, name -> new HashMap<>());
            known.keySet().retainAll(Set.copyOf(runs));
            runs.forEach(run -> known.putIfAbsent(run, now));
            Optional<Map.Entry<Long, Instant>> first = known.entrySet().stream()
                    .min(Map.Entry.<Long, Instant>comparingByValue().thenComparing(Map.Entry.comparingByKey()));
            Duration longest =
                    first.map(each -> Duration.between(each.getValue(), now)).orElse(Duration.ZERO);
            if (longest.compareTo(LONG) < 0) {
                told.remove(lane);
            } else if (told.add(lane)) {
                crowds.add(new Crowd(lane, runs.size(), longest, first.get().getKey()));
            }
        });
        told.retainAll(waiting.keySet());
        crowds.sort(Comparator.comparing(Crowd::lane));
        return crowds;
    }
}
