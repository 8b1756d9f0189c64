package org.gantrel.service.sweep;

import java.util.Optional;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.run.RosterSight;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;

/** A roster's rows are for those who may see the roster. */
@Component
class RosterSeen implements RosterSight {

    private final Rosters rosters;

    private final Sweeps sweeps;

    RosterSeen(Rosters rosters, Sweeps sweeps) {
        this.rosters = rosters;
        this.sweeps = sweeps;
    }

    @Override
    public Optional<SweepRequest> failedOf(long run) {
        SweepRecord sweep = sweeps.of(run);
        return sweeps.counts(run).failed() == 0
                ? Optional.empty()
                : Optional.of(new SweepRequest(
                        rosters.withId(sweep.rosterId()).name(),
                        SweepRequest.failedOf(run),
                        Optional.of(sweep.atOnce()),
                        Optional.of(sweep.afterFailure())));
    }

    @Override
    public void require(Caller caller, String roster) {
        try {
            rosters.visible(caller, roster);
        } catch (Refusal refusal) {
            throw new InvalidException("over", refusal.getMessage());
        }
    }
}
