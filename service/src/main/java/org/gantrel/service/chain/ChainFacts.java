package org.gantrel.service.chain;

import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.chain.StepGives;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;

/** What the steps of a chain's run came to, read where an expression asks for it. */
public final class ChainFacts implements StepFacts {

    private final Job.Chain chain;
    private Map<String, String> names;
    private final Map<String, Fact> read = new HashMap<>();
    private final ChainSteps.Of rows;
    private final Runs runs;

    public ChainFacts(Job.Chain chain, ChainSteps.Of rows, Runs runs) {
        this.chain = chain;
        this.rows = rows;
        this.runs = runs;
    }

    /** The steps by the names that expressions know them by; of a long chain that is worth waiting for the first question. */
    private Map<String, String> names() {
        if (names == null) {
            names = new HashMap<>();
            chain.steps().forEach(step -> names.put(step.alias(), step.name()));
        }
        return names;
    }

    @Override
    public Optional<Fact> of(String alias) {
        if (!names().containsKey(alias)) {
            return Optional.empty();
        }
        Fact known = read.get(alias);
        if (known != null) {
            return Optional.of(known);
        }
        Optional<Fact> found = rows.find(names().get(alias)).flatMap(this::fact);
        found.ifPresent(fact -> read.put(alias, fact));
        return found;
    }

    private Optional<Fact> fact(StepRecord row) {
        if (row.place() == Place.OUT_OF_REACH) {
            return Optional.of(Fact.of("out-of-reach"));
        }
        Optional<Run> child = row.child().flatMap(runs::find);
        // one that is done again is under way though its last run has ended
        boolean ended = row.place() == Place.ENDED
                || row.isUnderWay()
                        && child.filter(run -> run.state().isEnded()).isPresent();
        if (!ended) {
            return Optional.empty();
        }
        RunState state =
                row.place() == Place.ENDED ? row.state() : child.orElseThrow().state();
        return Optional.of(new Fact(
                state.word(),
                child.map(Run::number),
                child.flatMap(Run::exitCode),
                child.flatMap(Run::startedAt).or(row::beganAt),
                child.flatMap(Run::finishedAt).or(row::endedAt),
                child.map(Run::results).orElse(Map.of()),
                child.map(run -> StepGives.kinds(chain.step(row.step()).orElseThrow(), runs.jobOf(run)))
                        .orElse(Map.of())));
    }
}
