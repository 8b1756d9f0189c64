package org.gantrel.core.chain;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.Link;

/** The steps of a chain in an order in which each comes after those that it follows (Kahn, 1962). Linear in steps and links. */
public final class StepOrder {

    private final List<Step> sorted = new ArrayList<>();
    private final Map<String, List<String>> followers = new HashMap<>();
    private final List<Step> steps;

    public StepOrder(List<Step> steps) {
        this.steps = steps;
        Map<String, Step> byName = new HashMap<>();
        steps.forEach(step -> byName.put(step.name(), step));
        Map<String, Integer> open = new HashMap<>();
        for (Step step : steps) {
            Set<String> before = new HashSet<>(step.after());
            before.retainAll(byName.keySet());
            open.put(step.name(), before.size());
            before.forEach(name ->
                    followers.computeIfAbsent(name, key -> new ArrayList<>()).add(step.name()));
        }
        var ready = new ArrayDeque<Step>();
        steps.stream().filter(step -> open.get(step.name()) == 0).forEach(ready::add);
        while (!ready.isEmpty()) {
            Step step = ready.poll();
            sorted.add(step);
            for (String name : followers.getOrDefault(step.name(), List.of())) {
                if (open.merge(name, -1, Integer::sum) == 0) {
                    ready.add(byName.get(name));
                }
            }
        }
    }

    /** All of them, as they were given. */
    List<Step> steps() {
        return steps;
    }

    /** Those that are in no circle and follow none. */
    public List<Step> sorted() {
        return sorted;
    }

    /** The names of the steps of one circle, in order; none where there is no circle. */
    public List<String> circle() {
        if (sorted.size() == steps.size()) {
            return List.of();
        }
        Set<String> fine = new HashSet<>();
        sorted.forEach(step -> fine.add(step.name()));
        Map<String, Step> left = new HashMap<>();
        steps.stream().filter(step -> !fine.contains(step.name())).forEach(step -> left.put(step.name(), step));
        // each that is left follows another that is left, so going back from any leads round
        var way = new ArrayList<String>();
        String at = steps.stream()
                .map(Step::name)
                .filter(left::containsKey)
                .findFirst()
                .orElseThrow();
        while (!way.contains(at)) {
            way.add(at);
            at = left.get(at).links().stream()
                    .map(Link::after)
                    .filter(left::containsKey)
                    .findFirst()
                    .orElseThrow();
        }
        List<String> circle = new ArrayList<>(way.subList(way.indexOf(at), way.size()));
        java.util.Collections.reverse(circle);
        return circle;
    }

    /** Some steps and all that follow them, near or far. */
    public Set<String> from(Set<String> names) {
        Set<String> all = new HashSet<>(names);
        var open = new ArrayDeque<>(names);
        while (!open.isEmpty()) {
            for (String next : followers.getOrDefault(open.poll(), List.of())) {
                if (all.add(next)) {
                    open.add(next);
                }
            }
        }
        return all;
    }
}
