package org.gantrel.service.work;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.BiFunction;
import org.gantrel.core.chain.ChainWalk;
import org.gantrel.core.chain.StepNow;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/** Walks through a chain with supposed ends: which steps would run, in which order, and when it would end. */
final class CourseRehearsal {

    private static final List<String> ENDS =
            List.of("succeeded", "warned", "failed", "timed-out", "cancelled", "skipped");

    /**
     * A step on the way.
     *
     * @param state how it is supposed to end; {@code out-of-reach} where it would not run
     * @param from when it would begin; missing where it would not run
     * @param until when it would end
     * @param why why it would not run, or not end as supposed
     * @param waited how long and for what it would wait before it begins
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record StepPlan(String step, String state, Instant from, Instant until, String why, String waited) {}

    private final Job.Chain chain;
    private final Map<String, RunState> ends = new HashMap<>();
    private final Map<String, Map<String, String>> results = new HashMap<>();
    private final Set<String> unsure = new HashSet<>();
    private final Bindings known;
    private final ChainWalk.Walk walk;
    private final Instant begin;

    /**
     * @param suppose the end of a step by its name, or a result of one as {@code settle.values.total}
     * @param usual how long a step takes that begins so long after the chain
     * @param room which steps cannot go beside each other
     * @throws InvalidException where something is supposed of what is not there
     */
    CourseRehearsal(
            Job.Chain chain,
            Bindings known,
            Instant begin,
            Map<String, String> suppose,
            BiFunction<Step, Duration, Duration> usual,
            ChainWalk.Room room) {
        this.chain = chain;
        this.known = known;
        this.begin = begin;
        read(suppose);
        this.walk = ChainWalk.of(
                chain.steps(),
                step -> ends.getOrDefault(step.name(), RunState.SUCCEEDED),
                usual,
                now -> condition -> holds(condition, now),
                room);
    }

    private void read(Map<String, String> suppose) {
        var problems = new ArrayList<Problem>();
        suppose.forEach((what, value) -> {
            int values = what.indexOf(".values.");
            String name = values < 0 ? what : what.substring(0, values);
            Optional<Step> step = chain.steps().stream()
                    .filter(each -> each.name().equals(name) || each.alias().equals(name))
                    .findFirst();
            if (step.isEmpty()) {
                List<String> names = chain.steps().stream().map(Step::name).toList();
                problems.add(Problem.of("suppose", "the chain has no step '" + name + "'" + Nearest.hint(name, names)));
            } else if (values >= 0) {
                results.computeIfAbsent(step.get().name(), key -> new LinkedHashMap<>())
                        .put(what.substring(values + ".values.".length()), value);
            } else if (!ENDS.contains(value)) {
                problems.add(Problem.of(
                        "suppose",
                        "'" + value + "' is no end; there are " + String.join(", ", ENDS) + Nearest.hint(value, ENDS)));
            } else {
                ends.put(step.get().name(), RunState.of(value).orElseThrow());
            }
        });
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
    }

    /** What cannot be known before is supposed to hold, and said. */
    private boolean holds(String condition, Map<String, StepNow> now) {
        try {
            return known.after(facts(now)).holds(condition);
        } catch (ExpressionException e) {
            unsure.add(condition);
            return true;
        }
    }

    private StepFacts facts(Map<String, StepNow> now) {
        return alias -> chain.steps().stream()
                .filter(step -> step.alias().equals(alias) && now.containsKey(step.name()))
                .findFirst()
                .flatMap(step -> now.get(step.name()).fact(results.getOrDefault(step.name(), Map.of())));
    }

    /** What is known of the steps when all is over, for what is filled from their results. */
    StepFacts facts() {
        Map<String, StepNow> now = new HashMap<>();
        walk.steps().forEach(each -> now.put(each.step().name(), each.now()));
        return facts(now);
    }

    /** Why a step would not run; nothing where it would. */
    Optional<String> notRun(Step step) {
        return walk.steps().stream()
                .filter(each -> each.step().equals(step) && each.from().isEmpty())
                .map(ChainWalk.Walked::why)
                .findFirst();
    }

    Ending ending() {
        return walk.ending();
    }

    Instant until() {
        return begin.plus(walk.took());
    }

    List<StepPlan> plan() {
        return walk.steps().stream()
                .map(each -> new StepPlan(
                        each.step().name(),
                        each.now().isEnded() ? each.now().state().word() : "out-of-reach",
                        each.from().map(begin::plus).orElse(null),
                        begin.plus(each.until()),
                        each.why().isEmpty() ? null : each.why(),
                        each.waited().isEmpty() ? null : each.waited()))
                .toList();
    }

    /** Writes the way down. */
    void say(Sheet sheet) {
        int place = 0;
        for (ChainWalk.Walked each : walk.steps()) {
            if (each.from().isPresent()) {
                Duration from = each.from().get();
                Duration takes = each.until().minus(from);
                sheet.does(
                        "course",
                        ++place + ". " + each.step().name() + ", "
                                + (from.isZero() ? "at once" : Words.duration(from) + " after the start")
                                + (each.waited().isEmpty() ? "" : ", when it has waited " + each.waited())
                                + (takes.isZero() ? ", for how long is not known" : ", for " + Words.duration(takes))
                                + ": supposed " + each.now().state().word().replace('-', ' ')
                                + (each.why().isEmpty() ? "" : ", since " + each.why()));
            } else if (!each.why().isEmpty()) {
                sheet.does("course", "-  " + each.step().name() + " does not run: " + each.why());
            }
        }
        unsure.stream()
                .sorted()
                .forEach(condition -> sheet.untried(
                        "course",
                        "whether " + condition + " is known only then; it is supposed to hold, unless other results are"
                                + " supposed"));
        boolean unknown = walk.steps().stream()
                .anyMatch(each -> each.from().filter(each.until()::equals).isPresent());
        String earliest = unknown ? " at the earliest" : "";
        sheet.does(
                "course",
                "ends" + (walk.took().isZero() ? "" : " " + Words.duration(walk.took()) + " after the start" + earliest)
                        + ": "
                        + walk.ending().state().word().replace('-', ' ') + ", "
                        + walk.ending().message());
    }
}
