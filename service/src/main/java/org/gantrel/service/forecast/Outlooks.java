package org.gantrel.service.forecast;

import java.time.Duration;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Supplier;
import org.gantrel.core.chain.StepNow;
import org.gantrel.core.chain.StepsAhead;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.service.chain.ChainFacts;
import org.gantrel.service.chain.ChainSteps;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.time.Stopwatch;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Says which conditions of a chain's steps will hold: from its values, its planned time and what its steps came to so far;
 * and where that is not enough, from whether the step usually ran.
 */
@Component
class Outlooks {

    private static final Logger LOG = LoggerFactory.getLogger(Outlooks.class);

    /** For how long conditions of one chain are worked out, and of all: a forecast that many wait for has other work. */
    private static final Duration MOST = Duration.ofSeconds(2);

    private static final Duration MOST_OF_ALL = Duration.ofSeconds(5);

    private final RunValues values;
    private final ChainSteps chains;
    private final Runs runs;
    private final Jobs jobs;
    private final Stopwatch watch;

    Outlooks(RunValues values, ChainSteps chains, Runs runs, Jobs jobs, Stopwatch watch) {
        this.values = values;
        this.chains = chains;
        this.runs = runs;
        this.jobs = jobs;
        this.watch = watch;
    }

    Of of() {
        return new Of();
    }

    /** What is said at a moment; each chain is asked once what it usually runs. */
    final class Of {
        private final Map<String, ChainSteps.Lately> lately = new HashMap<>();
        /** What cannot be known before a chain has begun: worked out once, not for each of its starts. */
        private final Set<String> unsure = new HashSet<>();
        /** How long the conditions of each chain have taken so far, in nanoseconds. */
        private final Map<String, Long> took = new HashMap<>();

        private long tookInAll;

        /** Of a chain that waits. */
        Outlook waiting(Job.Chain chain, Run run) {
            return new Outlook(this, chain, () -> values.known(run), StepFacts.NONE, false);
        }

        /** Of a chain under way. */
        Outlook underWay(Job.Chain chain, Run run, ChainSteps.Of rows) {
            return new Outlook(this, chain, () -> values.known(run), new ChainFacts(chain, rows, runs), false);
        }

        /** Of a start of a schedule. */
        Outlook coming(Job.Chain chain, Map<String, String> with, PlannedTime planned) {
            return coming(chain, () -> with, CauseKind.SCHEDULE, planned);
        }

        private Outlook coming(
                Job.Chain chain, Supplier<Map<String, String>> given, CauseKind cause, PlannedTime planned) {
            return new Outlook(
                    this,
                    chain,
                    () -> values.known(values.resolve(chain, given.get(), cause, planned), planned),
                    StepFacts.NONE,
                    true);
        }

        /** The values of a schedule's start that tell runs of its job apart; what cannot be worked out stands as it is written. */
        Map<String, String> apart(Job job, Map<String, String> with, PlannedTime planned) {
            return apart(job, with, CauseKind.SCHEDULE, planned);
        }

        private Map<String, String> apart(Job job, Map<String, String> with, CauseKind cause, PlannedTime planned) {
            if (job.rules().overlap().apartBy().isEmpty()) {
                return Map.of();
            }
            try {
                return values.resolve(job, with, cause, planned);
            } catch (InvalidException | ExpressionException e) {
                return with;
            }
        }

        private <T> T timed(Job.Chain chain, Supplier<T> work) {
            long began = watch.nanos();
            T found = work.get();
            long length = watch.nanos() - began;
            took.merge(chain.name(), length, Long::sum);
            tookInAll += length;
            return found;
        }

        private boolean isTooLong(Job.Chain chain) {
            return took.getOrDefault(chain.name(), 0L) > MOST.toNanos() || tookInAll > MOST_OF_ALL.toNanos();
        }

        private ChainSteps.Lately lately(Job.Chain chain) {
            return lately.computeIfAbsent(chain.name(), name -> jobs.named(name)
                    .map(JobEntry::id)
                    .map(chains::lately)
                    .orElse(ChainSteps.Lately.NOTHING));
        }

        private Map<String, String> valuesOf(Step step, Bindings known) {
            return values.of(step, known);
        }
    }

    /** What will hold in one run of a chain. */
    static final class Outlook implements StepsAhead.Foreseen {
        private final Of around;
        private final Job.Chain chain;
        private final Supplier<Bindings> values;
        private final StepFacts soFar;
        private final boolean alike;
        private Optional<Bindings> known = Optional.empty();

        /** @param alike whether what cannot be known of it cannot be known of other starts of the chain either */
        private Outlook(Of around, Job.Chain chain, Supplier<Bindings> values, StepFacts soFar, boolean alike) {
            this.around = around;
            this.chain = chain;
            this.values = values;
            this.soFar = soFar;
            this.alike = alike;
        }

        private Bindings known() {
            if (known.isEmpty()) {
                known = Optional.of(values.get());
            }
            return known.get();
        }

        @Override
        public boolean holds(Step step, String condition, Map<String, StepNow> places) {
            String key = chain.name() + " " + condition;
            boolean worthwhile = !(alike && around.unsure.contains(key)) && !around.isTooLong(chain);
            Optional<Boolean> found =
                    worthwhile ? around.timed(chain, () -> workedOut(condition, places)) : Optional.empty();
            if (alike && found.isEmpty()) {
                around.unsure.add(key);
            }
            return found.orElseGet(() -> !around.lately(chain).seldom().contains(step.name()));
        }

        /** How often a step is usually done until its result is right; once where it is not done again. */
        int turns(Step step) {
            return step.until()
                    .map(until ->
                            Math.min(until.times(), around.lately(chain).turns().getOrDefault(step.name(), 1)))
                    .orElse(1);
        }

        private Optional<Boolean> workedOut(String condition, Map<String, StepNow> places) {
            try {
                return Optional.of(known().after(alias -> fact(alias, places)).holds(condition));
            } catch (ExpressionException | InvalidException e) {
                return Optional.empty();
            } catch (RuntimeException e) {
                // a value of one chain that cannot be opened any more keeps nobody from the forecast
                LOG.debug("the conditions of {} cannot be worked out", chain.name(), e);
                return Optional.empty();
            }
        }

        private Optional<StepFacts.Fact> fact(String alias, Map<String, StepNow> places) {
            return soFar.of(alias).or(() -> chain.steps().stream()
                    .filter(step -> step.alias().equals(alias) && places.containsKey(step.name()))
                    .findFirst()
                    .flatMap(step -> places.get(step.name()).fact(Map.of())));
        }

        /** The same of what a step starts. */
        Map<String, String> apart(Step step, Job job, PlannedTime planned) {
            if (job.rules().overlap().apartBy().isEmpty() || around.isTooLong(chain)) {
                return step.with();
            }
            return around.timed(chain, () -> {
                try {
                    return around.apart(job, around.valuesOf(step, known().after(soFar)), CauseKind.CHAIN, planned);
                } catch (InvalidException | ExpressionException e) {
                    return step.with();
                }
            });
        }

        /** Of a chain that is a step of this one. */
        Outlook within(Step step, Job.Chain inner, PlannedTime planned) {
            return around.coming(inner, () -> around.valuesOf(step, known().after(soFar)), CauseKind.CHAIN, planned);
        }
    }
}
