package org.gantrel.service.demo;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;

/** The places that a made-up past has given away in lanes: each run begins where its places are free for as long as it takes. */
final class Berths {

    private record Taken(Instant from, Instant until, int places) {}

    private static final Duration FORGOTTEN_AFTER = Duration.ofDays(1);

    private final Map<String, List<Taken>> byLane = new HashMap<>();

    /**
     * Takes places from the first moment on at which all are free.
     *
     * @param needed how many places of which lane
     * @param widths how many each lane has
     * @return that moment
     */
    Instant take(Map<String, Integer> needed, Map<String, Integer> widths, Instant at, Duration length) {
        var moments = new TreeSet<Instant>();
        moments.add(at);
        for (String lane : needed.keySet()) {
            List<Taken> taken = byLane.computeIfAbsent(lane, name -> new ArrayList<>());
            taken.removeIf(each -> each.until().isBefore(at.minus(FORGOTTEN_AFTER)));
            taken.stream().map(Taken::until).filter(at::isBefore).forEach(moments::add);
        }
        // when all others have ended there is room for whatever a lane can take at all
        Instant begin = moments.stream()
                .filter(moment -> needed.entrySet().stream()
                        .allMatch(need -> isFree(
                                byLane.get(need.getKey()),
                                widths.getOrDefault(need.getKey(), need.getValue()) - need.getValue(),
                                moment,
                                moment.plus(length))))
                .findFirst()
                .orElse(moments.last());
        needed.forEach((lane, places) -> byLane.get(lane).add(new Taken(begin, begin.plus(length), places)));
        return begin;
    }

    /** Whether no more than so many places are taken at any moment of a time: it is most where one begins. */
    private static boolean isFree(List<Taken> taken, int most, Instant from, Instant until) {
        return taken.stream()
                        .map(Taken::from)
                        .filter(begin -> begin.isAfter(from) && begin.isBefore(until))
                        .allMatch(begin -> at(taken, begin) <= most)
                && at(taken, from) <= most;
    }

    private static int at(List<Taken> taken, Instant moment) {
        return taken.stream()
                .filter(each -> !each.from().isAfter(moment) && each.until().isAfter(moment))
                .mapToInt(Taken::places)
                .sum();
    }
}
