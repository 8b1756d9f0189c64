package org.gantrel.core.chain;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.EnumSet;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.job.Step.Link;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/**
 * Finds what is wrong with the links of a chain before it runs: steps that are not there, circles, links that never hold,
 * joins that are never met. Each step and each link is looked at once, or so.
 */
public final class ChainCheck {

    /** What is wrong with a field of a step, and what would be right. */
    public record Complaint(String step, String field, String message) {}

    /** How a step can end, as far as links tell ends apart. */
    private enum End {
        GOOD,
        WARNED,
        BAD,
        OUT
    }

    /** For each end the steps that must not have ended so for a step to run, a bit a step. */
    private static final class Needs {
        private final Map<End, BitSet> excluded = new EnumMap<>(End.class);

        private Needs() {
            for (End end : End.values()) {
                excluded.put(end, new BitSet());
            }
        }

        private void add(Needs other) {
            excluded.forEach((end, steps) -> steps.or(other.excluded.get(end)));
        }

        private void lead(int step, Set<End> ends) {
            excluded.forEach((end, steps) -> {
                if (!ends.contains(end)) {
                    steps.set(step);
                }
            });
        }

        /** A step that could not have ended in any way; -1 where there is none. */
        private int conflict() {
            var all = (BitSet) excluded.get(End.GOOD).clone();
            excluded.values().forEach(all::and);
            return all.nextSetBit(0);
        }
    }

    private final List<Step> steps;
    private final Map<String, Step> byName = new LinkedHashMap<>();
    private final Map<String, Integer> places = new HashMap<>();
    private final Map<String, Needs> needs = new HashMap<>();
    private final List<Complaint> complaints = new ArrayList<>();

    private ChainCheck(List<Step> steps) {
        this.steps = steps;
        steps.forEach(step -> {
            byName.put(step.name(), step);
            places.put(step.name(), places.size());
        });
    }

    /** All that is wrong, in the order of the steps. */
    public static List<Complaint> of(List<Step> steps) {
        var check = new ChainCheck(steps);
        check.run();
        return check.complaints;
    }

    private void run() {
        steps.forEach(this::links);
        var order = new StepOrder(steps);
        List<String> circle = order.circle();
        if (!circle.isEmpty()) {
            String round = String.join(", then ", circle) + ", then " + circle.get(0) + " again";
            complain(
                    circle.get(0),
                    "after",
                    "the steps follow one another in a circle: " + round + "; one of these links has to go");
            return;
        }
        if (complaints.isEmpty()) {
            order.sorted().forEach(this::reach);
        }
    }

    private void complain(String step, String field, String message) {
        complaints.add(new Complaint(step, field, message));
    }

    private void links(Step step) {
        Set<String> seen = new HashSet<>();
        for (Link link : step.links()) {
            Step before = byName.get(link.after());
            if (before == null) {
                var others = new ArrayList<>(byName.keySet());
                others.remove(step.name());
                complain(
                        step.name(),
                        "after",
                        "'" + link.after() + "' is no step of this chain"
                                + (others.isEmpty() ? "; there is no other step" : Nearest.hint(link.after(), others)));
            } else if (link.after().equals(step.name())) {
                complain(step.name(), "after", "a step cannot follow itself; 'repeat' does it again");
            } else if (before.last() && !step.last()) {
                complain(
                        step.name(),
                        "after",
                        "'" + link.after() + "' is one of the steps under finally, which come when"
                                + " nothing else is left; " + step.name() + " would have to stand there too");
            } else if (!before.canEnd(link.on())) {
                complain(
                        step.name(),
                        "on",
                        "never holds: " + link.after() + ", a "
                                + (before.goesOn() ? "step that is not waited for" : before.kind()) + ", does not end "
                                + (link.on() == FollowsOn.WARNINGS ? "with warnings" : "in failure"));
            }
            if (!seen.add(link.after() + " " + link.on() + " " + link.when())) {
                complain(step.name(), "after", "'" + link.after() + "' is named twice");
            }
        }
        if (step.join() > step.links().size()) {
            complain(
                    step.name(),
                    "join",
                    step.join() + " links have to hold, and there are only "
                            + step.links().size() + "; at most that many, or all, would be right");
        }
    }

    /** Follows what has to be so from step to step; where two things cannot both be so, the step never runs. */
    private void reach(Step step) {
        var found = new Needs();
        // where some links are enough, what has to be so is what all of them share; that is left open
        if (step.needed() == step.links().size()) {
            for (Link link : step.links()) {
                found.lead(places.get(link.after()), leading(link.on()));
                if (link.on() != FollowsOn.ANY) {
                    found.add(needs.get(link.after()));
                }
            }
        }
        int conflict = found.conflict();
        if (conflict >= 0) {
            complain(
                    step.name(),
                    "join",
                    "can never be met: " + Words.list(step.after()) + " never come together, since "
                            + steps.get(conflict).name()
                            + " would have to end in two ways at once; 'join: any' waits for one of them");
        }
        needs.put(step.name(), conflict >= 0 ? new Needs() : found);
    }

    private static Set<End> leading(FollowsOn on) {
        return switch (on) {
            case SUCCESS -> EnumSet.of(End.GOOD, End.WARNED);
            case WARNINGS -> EnumSet.of(End.WARNED);
            case FAILURE -> EnumSet.of(End.BAD);
            case ANY -> EnumSet.allOf(End.class);
        };
    }
}
