package org.gantrel.core.chain;

import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.job.Step.Link;
import org.gantrel.core.run.RunState;

/**
 * What is still to come of a chain where all steps end well from now on: which steps run, and after which others each
 * begins. The rule is that of {@link ChainCourse}, looked at from before.
 */
public final class StepsAhead {

    /** How the steps end that are still to come. */
    private static final StepNow WELL = StepNow.of(RunState.SUCCEEDED);

    /**
     * A step that is under way, or will begin.
     *
     * @param after the steps ahead that it waits for, by name
     * @param needed how many of these have to be over before it begins
     */
    public record Ahead(Step step, Set<String> after, int needed) {}

    /** Says whether a condition will hold. */
    public interface Foreseen {

        /**
         * @param step whose condition it is, or whose link's
         * @param places what has become of the steps before, and what is expected to
         */
        boolean holds(Step step, String condition, Map<String, StepNow> places);
    }

    private final Map<String, StepNow> places;
    private final boolean stopping;
    private final Foreseen conditions;
    private final Map<String, Set<String>> behind = new HashMap<>();
    private final Map<String, Ahead> ahead = new HashMap<>();
    private final List<Ahead> inOrder = new ArrayList<>();

    private StepsAhead(Map<String, StepNow> known, boolean stopping, Foreseen conditions) {
        this.places = new HashMap<>(known);
        this.stopping = stopping;
        this.conditions = conditions;
    }

    /**
     * The steps ahead, each after those that it waits for.
     *
     * @param known what has become of steps so far
     * @param stopping whether the chain is being stopped: then only what comes at the very end begins
     */
    public static List<Ahead> of(List<Step> steps, Map<String, StepNow> known, boolean stopping, Foreseen conditions) {
        var way = new StepsAhead(known, stopping, conditions);
        List<Step> sorted = new StepOrder(steps).sorted();
        sorted.stream().filter(step -> !step.last()).forEach(step -> way.look(step, Set.of()));
        Set<String> before = new LinkedHashSet<>(way.ahead.keySet());
        sorted.stream().filter(Step::last).forEach(step -> way.look(step, before));
        return way.inOrder;
    }

    /** A link, and the steps ahead on whose end it turns out whether it holds; none where that is so already. */
    private record Looked(boolean holds, Set<String> behind) {}

    /** @param before what it waits for whatever its links are */
    private void look(Step step, Set<String> before) {
        StepNow known = places.get(step.name());
        if (known != null) {
            if (!known.isSettled()) {
                comes(step, Set.of(), 0);
            }
            return;
        }
        if (stopping && !step.last()) {
            out(step, Set.of());
            return;
        }
        List<Looked> looked =
                step.links().stream().map(link -> look(step, link)).toList();
        int needed = step.needed();
        List<Looked> hold = looked.stream().filter(Looked::holds).toList();
        if (hold.size() < needed) {
            // as many as it takes for too few to be left
            out(step, names(looked, each -> !each.holds(), step.links().size() - needed + 1));
            return;
        }
        Set<String> after = needed == looked.size() || !before.isEmpty()
                ? names(hold, each -> true, hold.size())
                : new LinkedHashSet<>(
                        hold.stream().flatMap(each -> last(each.behind())).toList());
        if (!step.when().isEmpty() && !conditions.holds(step, step.when(), places)) {
            out(step, after);
            return;
        }
        long already = hold.stream().filter(each -> each.behind().isEmpty()).count();
        after.addAll(before);
        comes(
                step,
                after,
                needed == looked.size() || !before.isEmpty()
                        ? after.size()
                        : (int) Math.min(after.size(), Math.max(0, needed - already)));
    }

    private static Stream<String> last(Collection<String> names) {
        return names.stream().skip(Math.max(0, names.size() - 1));
    }

    /** What the first of some links wait for. */
    private static Set<String> names(List<Looked> links, Predicate<Looked> which, int most) {
        Set<String> names = new LinkedHashSet<>();
        links.stream().filter(which).limit(most).forEach(link -> names.addAll(link.behind()));
        return names;
    }

    private Looked look(Step step, Link link) {
        StepNow before = places.getOrDefault(link.after(), StepNow.OUT);
        Set<String> waits =
                ahead.containsKey(link.after()) ? Set.of(link.after()) : behind.getOrDefault(link.after(), Set.of());
        if (before.place() == Place.OUT_OF_REACH) {
            return new Looked(link.on() == FollowsOn.ANY, waits);
        }
        return new Looked(
                link.on().follows(before.state())
                        && (link.when().isEmpty() || conditions.holds(step, link.when(), places)),
                waits);
    }

    private void comes(Step step, Set<String> after, int needed) {
        var found = new Ahead(step, after, needed);
        ahead.put(step.name(), found);
        inOrder.add(found);
        places.put(step.name(), WELL);
    }

    private void out(Step step, Set<String> after) {
        behind.put(step.name(), after);
        places.put(step.name(), StepNow.OUT);
    }
}
