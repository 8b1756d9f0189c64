package org.gantrel.core.trigger;

import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedList;
import java.util.List;
import java.util.Map;
import java.util.Set;

/** Jobs that start one another without end. */
public final class Circle {

    private Circle() {}

    /**
     * The shortest way from a job back to itself, the job first and last; empty where there is none. Takes time that grows with the
     * number of jobs and links.
     *
     * @param starts which jobs a job starts when it ends
     */
    public static List<String> of(String job, Map<String, Set<String>> starts) {
        Map<String, String> before = new HashMap<>();
        Deque<String> open = new ArrayDeque<>(List.of(job));
        while (!open.isEmpty()) {
            String at = open.poll();
            for (String next : starts.getOrDefault(at, Set.of())) {
                if (next.equals(job)) {
                    var way = new LinkedList<>(List.of(job));
                    for (String back = at; back != null && !back.equals(job); back = before.get(back)) {
                        way.addFirst(back);
                    }
                    way.addFirst(job);
                    return way;
                }
                if (before.putIfAbsent(next, at) == null) {
                    open.add(next);
                }
            }
        }
        return List.of();
    }
}
