package org.gantrel.service.engine;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.Effect;
import org.gantrel.core.run.RunEvent;
import org.gantrel.core.run.RunEvent.CancelAsked;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Moved;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/** Stops runs with all that they have started, in the transaction under way. */
@Component
class Parents {

    private final Ledger ledger;
    private final Runs runs;

    Parents(Ledger ledger, Runs runs) {
        this.ledger = ledger;
        this.runs = runs;
    }

    /** Asks a run to stop, and its steps or rows; those that wait end at once. */
    List<Moved> cancel(long number, String by, Instant now) {
        return withChildren(ledger.move(number, new CancelAsked(by), now), now);
    }

    /** Stops a run whose limit is over, or ends one that was asked to stop and had its time for it. */
    List<Moved> reachLimit(long number, Instant now) {
        return withChildren(
                ledger.move(number, new RunEvent.LimitReached(), now)
                        .or(() -> ledger.move(number, new RunEvent.PatienceEnded(), now)),
                now);
    }

    /** Stops a run whose window is over. */
    List<Moved> endWindow(long number, Instant now) {
        return withChildren(ledger.move(number, new RunEvent.WindowOver(), now), now);
    }

    private List<Moved> withChildren(Optional<Moved> move, Instant now) {
        var all = new ArrayList<Moved>();
        move.ifPresent(moved -> {
            all.add(moved);
            all.addAll(cancelChildren(moved, now));
        });
        return all;
    }

    /** The steps that run whatever happens, also when their chain is stopped. */
    private Set<String> last(Run parent) {
        return parent.isChain() && runs.jobOf(parent) instanceof Job.Chain chain
                ? chain.steps().stream().filter(Step::last).map(Step::name).collect(Collectors.toSet())
                : Set.of();
    }

    /** Stops what a run has started, where its move says so. */
    List<Moved> cancelChildren(Moved moved, Instant now) {
        var all = new ArrayList<Moved>();
        if (moved.effects().stream().anyMatch(Effect.StopChildren.class::isInstance)) {
            Run parent = moved.run();
            String by = parent.isSweep() ? "the sweep" : "the chain";
            Set<String> last = last(parent);
            for (Long child : runs.unended(parent.number())) {
                boolean stays = !last.isEmpty()
                        && last.contains(runs.find(child).map(Run::step).orElse(""));
                if (!stays) {
                    all.addAll(cancel(child, by, now));
                }
            }
        }
        return all;
    }
}
