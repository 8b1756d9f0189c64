package org.gantrel.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.RunState;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/** Has chains and sweeps go on after what happened to them, in the transaction under way. */
@Component
class Leading {

    private final Runs runs;
    private final ChainRuns chains;
    private final SweepRuns sweeps;
    private final SetAside aside;

    Leading(Runs runs, ChainRuns chains, SweepRuns sweeps, SetAside aside) {
        this.runs = runs;
        this.chains = chains;
        this.sweeps = sweeps;
        this.aside = aside;
    }

    /**
     * How a chain or a sweep went on.
     *
     * @param end its own end, where it is through
     * @param wrote whether anything was written down
     * @param stirs the runs that are to be looked at because of it, itself among them where a step ended in the same breath
     * @param wants the rows that it could begin
     * @param draws whether its rows are to be brought together first
     */
    record Led(
            long number,
            Optional<Moved> end,
            boolean wrote,
            Set<Long> stirs,
            Optional<WaitingRows> wants,
            boolean draws) {}

    /** Has one go on; nothing for a run that is not under way, or starts no others. */
    Optional<Led> lead(long number, Instant now) {
        Optional<Run> found = runs.find(number).filter(run -> run.state() == RunState.RUNNING);
        if (found.filter(Run::isChain).isPresent()) {
            ChainRuns.Led led = chains.lead(found.get(), now);
            var stirs = new LinkedHashSet<>(led.others());
            if (led.lookAgain()) {
                stirs.add(number);
            }
            return Optional.of(new Led(number, led.end(), led.moved(), stirs, Optional.empty(), false));
        }
        return found.filter(Run::isSweep).map(run -> {
            SweepRuns.Led led = sweeps.lead(run, now);
            return new Led(number, led.end(), false, Set.of(), led.wants(), led.draws());
        });
    }

    /**
     * Has the chains go on whose steps have just ended, in the transaction that writes those ends down: a commit is what a
     * short step costs most. Chains that could not be led before go by themselves.
     */
    List<Led> leadChainsOf(List<Moved> ends, Instant now) {
        var parents = new LinkedHashSet<Long>();
        ends.stream().filter(Moved::ended).forEach(end -> end.run().parent().ifPresent(parents::add));
        var all = new ArrayList<Led>();
        for (Long parent : parents) {
            if (!aside.isHeld(Kind.CHAIN, parent)
                    && !aside.hasFailed(Kind.CHAIN, parent)
                    && runs.find(parent).filter(Run::isChain).isPresent()) {
                lead(parent, now).ifPresent(all::add);
            }
        }
        return all;
    }
}
