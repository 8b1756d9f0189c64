package org.gantrel.core.job;

import java.time.Duration;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Stream;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Command;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.trigger.Trigger;

/** What can be run: a task, which does one thing, or a chain, which joins jobs in order. */
public sealed interface Job {

    /** What names look like: lower-case letters, digits and dashes. */
    String NAME = "[a-z][a-z0-9]*(-[a-z0-9]+)*";

    int LONGEST_NAME = 60;

    String name();

    String team();

    String about();

    Parameters parameters();

    List<Schedule> schedules();

    /** Who is concerned when something happens to it. */
    Concern concern();

    /** The addresses that get a mail when a run fails or times out. */
    default List<String> mailOnFailure() {
        return concern().mailOnFailure();
    }

    /** What it is sorted by. */
    default List<String> labels() {
        return concern().labels();
    }

    /**
     * Who is concerned when something happens to a job.
     *
     * @param owner the person who answers for it; empty where nobody is named
     * @param labels what it is sorted by, so that rules can speak of several jobs
     * @param mailOnFailure the addresses that get a mail when a run fails or times out
     */
    record Concern(String owner, List<String> labels, List<String> mailOnFailure) {
        public Concern {
            labels = List.copyOf(labels);
            mailOnFailure = List.copyOf(mailOnFailure);
        }
    }

    /** How long its runs and logs are kept. */
    Retention retention();

    /** How its runs behave with nobody watching. */
    Rules rules();

    /** How long a try of it may take. */
    Optional<Duration> timeLimit();

    /** The events that start it. */
    List<Trigger> triggers();

    /** The results that it declares to leave for later steps, with what they are. */
    default Map<String, ParameterType> gives() {
        return Map.of();
    }

    /**
     * One action.
     *
     * @param gives see {@link #gives()}
     */
    record Task(
            String name,
            String team,
            String about,
            Parameters parameters,
            Action action,
            Identity identity,
            Optional<Duration> timeLimit,
            OutcomeRule outcome,
            Outputs outputs,
            Map<String, ParameterType> gives,
            Leftovers leftovers,
            List<Schedule> schedules,
            Concern concern,
            Retention retention,
            Rules rules,
            List<Trigger> triggers)
            implements Job {

        /** The same as another, for so long, by other rules. */
        Task with(Identity as, Optional<Duration> limit, Rules otherRules) {
            return new Task(
                    name,
                    team,
                    about,
                    parameters,
                    action,
                    as,
                    limit,
                    outcome,
                    outputs,
                    gives,
                    leftovers,
                    schedules,
                    concern,
                    retention,
                    otherRules,
                    triggers);
        }

        /** The action where it is a command. */
        public Optional<Command> command() {
            return action instanceof Command command ? Optional.of(command) : Optional.empty();
        }

        /** The names of all credentials that it uses, the one that it acts as first. */
        public List<String> credentials() {
            return Stream.of(
                            Stream.of(identity.credential()),
                            action.credentials().stream(),
                            rules.gates().credentials().stream())
                    .flatMap(names -> names)
                    .filter(name -> !name.isEmpty())
                    .distinct()
                    .toList();
        }
    }

    /**
     * Whom a task acts as.
     *
     * @param credential the name of a credential; empty for the service's own account
     * @param raised whether it is meant to act as the account that may do everything
     */
    record Identity(String credential, boolean raised) {
        public static final Identity OWN = new Identity("", false);
    }

    /** Jobs joined in order. */
    record Chain(
            String name,
            String team,
            String about,
            Parameters parameters,
            List<Step> steps,
            List<Schedule> schedules,
            Concern concern,
            Retention retention,
            Rules rules,
            List<Trigger> triggers)
            implements Job {

        /** The same by other rules. */
        Chain with(Rules otherRules) {
            return new Chain(name, team, about, parameters, steps, schedules, concern, retention, otherRules, triggers);
        }

        /** A chain is tried once, so that its limit is the one over all tries. */
        @Override
        public Optional<Duration> timeLimit() {
            return rules.limits().total();
        }

        public Optional<Step> step(String named) {
            return steps.stream().filter(step -> step.name().equals(named)).findFirst();
        }

        /**
         * All jobs that a start of the chain starts: those of its steps, and of the steps of chains among them, each once.
         *
         * @param find finds a job by its name; what it does not find is left out
         */
        public Collection<Job> parts(Function<String, Optional<Job>> find) {
            Map<String, Job> found = new LinkedHashMap<>();
            collect(find, found);
            return found.values();
        }

        private void collect(Function<String, Optional<Job>> find, Map<String, Job> found) {
            for (Step step : steps) {
                boolean open = !step.job().isEmpty() && !found.containsKey(step.job());
                Optional<Job> job = open ? find.apply(step.job()) : Optional.empty();
                job.ifPresent(part -> found.put(step.job(), part));
                if (job.orElse(null) instanceof Chain chain) {
                    chain.collect(find, found);
                }
            }
        }
    }
}
