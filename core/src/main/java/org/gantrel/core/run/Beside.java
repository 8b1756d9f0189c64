package org.gantrel.core.run;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;

/** The runs under way by what they count as. */
public final class Beside {

    /** By job, and by the parameters that tell its runs apart: of a job that was not changed there is one entry. */
    private final Map<String, Map<Set<String>, Map<Crowd, Set<Long>>>> jobs = new HashMap<>();

    /** Takes in a run; one that counts with no other is left out. */
    public void add(Crowd crowd, long run) {
        if (!crowd.isNone()) {
            jobs.computeIfAbsent(crowd.job(), key -> new HashMap<>())
                    .computeIfAbsent(crowd.values().keySet(), key -> new HashMap<>())
                    .computeIfAbsent(crowd, key -> new LinkedHashSet<>())
                    .add(run);
        }
    }

    public void remove(Crowd crowd, long run) {
        var shapes = jobs.getOrDefault(crowd.job(), Map.of());
        var crowds = shapes.getOrDefault(crowd.values().keySet(), Map.of());
        Set<Long> runs = crowds.getOrDefault(crowd, Set.of());
        if (!runs.isEmpty() && runs.remove(run) && runs.isEmpty()) {
            crowds.remove(crowd);
            if (crowds.isEmpty()) {
                shapes.remove(crowd.values().keySet());
            }
            if (shapes.isEmpty()) {
                jobs.remove(crowd.job());
            }
        }
    }

    /** How many count together with a run of a crowd. */
    public int count(Crowd crowd) {
        return of(crowd).size();
    }

    /** Those that count together with a run of a crowd. */
    public Collection<Long> of(Crowd crowd) {
        var shapes = jobs.getOrDefault(crowd.job(), Map.of());
        Set<String> parameters = crowd.values().keySet();
        if (shapes.size() == 1 && shapes.containsKey(parameters)) {
            return shapes.get(parameters).getOrDefault(crowd, Set.of());
        }
        List<Long> all = new ArrayList<>();
        shapes.values()
                .forEach(crowds -> crowds.forEach((each, runs) -> {
                    if (crowd.meets(each)) {
                        all.addAll(runs);
                    }
                }));
        return all;
    }

    /** What a run of a crowd waits for, where so many are under way as may be side by side. */
    public Optional<Wait> waitOf(Crowd crowd, int sideBySide) {
        Collection<Long> underway = of(crowd);
        return crowd.isNone() || underway.size() < sideBySide
                ? Optional.empty()
                : Optional.of(Wait.forOthers(crowd, List.copyOf(underway)));
    }
}
