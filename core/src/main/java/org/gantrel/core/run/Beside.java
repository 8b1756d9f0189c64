package org.gantrel.core.run;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;

/** The runs under way by what they count as. To ask it costs no more than its runs are told apart in different ways. */
public final class Beside {

    /** By job, and by the parameters that tell its runs apart: of a job that was not changed there is one entry. */
    private final Map<String, Map<Set<String>, Shape>> jobs = new HashMap<>();

    /** Runs that are told apart by the same parameters. */
    private static final class Shape {

        /** By the values of some of these parameters, for each choice of them that was asked for; of all of them always. */
        private final Map<Set<String>, Map<Map<String, String>, Set<Long>>> by = new HashMap<>();

        private final Set<String> parameters;

        private Shape(Set<String> parameters) {
            this.parameters = parameters;
            by.put(parameters, new HashMap<>());
        }

        private void add(Map<String, String> values, long run) {
            by.forEach((some, runs) -> runs.computeIfAbsent(of(values, some), key -> new LinkedHashSet<>())
                    .add(run));
        }

        private void remove(Map<String, String> values, long run) {
            by.forEach((some, runs) -> runs.computeIfPresent(of(values, some), (key, found) -> {
                found.remove(run);
                return found.isEmpty() ? null : found;
            }));
        }

        private boolean isEmpty() {
            return by.get(parameters).isEmpty();
        }

        /** Those that have the same values of the parameters that both are told apart by. */
        private Set<Long> like(Map<String, String> values) {
            Set<String> common = parameters.equals(values.keySet())
                    ? parameters
                    : parameters.stream().filter(values::containsKey).collect(Collectors.toSet());
            return by.computeIfAbsent(common, this::choose).getOrDefault(of(values, common), Set.of());
        }

        private Map<Map<String, String>, Set<Long>> choose(Set<String> some) {
            Map<Map<String, String>, Set<Long>> chosen = new HashMap<>();
            by.get(parameters)
                    .forEach((values, runs) -> chosen.computeIfAbsent(of(values, some), key -> new LinkedHashSet<>())
                            .addAll(runs));
            return chosen;
        }

        private static Map<String, String> of(Map<String, String> values, Set<String> some) {
            if (some.size() == values.size()) {
                return values;
            }
            Map<String, String> chosen = new HashMap<>(values);
            chosen.keySet().retainAll(some);
            return chosen;
        }
    }

    /** Takes in a run; one that counts with no other is left out. */
    public void add(Crowd crowd, long run) {
        if (!crowd.isNone()) {
            jobs.computeIfAbsent(crowd.job(), key -> new HashMap<>())
                    .computeIfAbsent(crowd.values().keySet(), Shape::new)
                    .add(crowd.values(), run);
        }
    }

    public void remove(Crowd crowd, long run) {
        Map<Set<String>, Shape> shapes = jobs.getOrDefault(crowd.job(), Map.of());
        Shape shape = shapes.get(crowd.values().keySet());
        if (shape != null) {
            shape.remove(crowd.values(), run);
            if (shape.isEmpty()) {
                shapes.remove(crowd.values().keySet());
            }
            if (shapes.isEmpty()) {
                jobs.remove(crowd.job());
            }
        }
    }

    /** How many count together with a run of a crowd. */
    public int count(Crowd crowd) {
        return like(crowd).stream().mapToInt(Set::size).sum();
    }

    /** Those that count together with a run of a crowd. */
    public List<Long> of(Crowd crowd) {
        return like(crowd).stream().flatMap(Collection::stream).toList();
    }

    /** What a run of a crowd waits for, where so many are under way as may be side by side. */
    public Optional<Wait> waitOf(Crowd crowd, int sideBySide) {
        List<Set<Long>> all = like(crowd);
        int count = all.stream().mapToInt(Set::size).sum();
        return count == 0 || count < sideBySide
                ? Optional.empty()
                : Optional.of(Wait.forOthers(crowd, count, all.get(0).iterator().next()));
    }

    private List<Set<Long>> like(Crowd crowd) {
        var found = new ArrayList<Set<Long>>();
        for (Shape shape : jobs.getOrDefault(crowd.job(), Map.of()).values()) {
            Set<Long> runs = shape.like(crowd.values());
            if (!runs.isEmpty()) {
                found.add(runs);
            }
        }
        return found;
    }
}
