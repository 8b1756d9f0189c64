package org.gantrel.service.sweep;

import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.run.RosterSight;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;

/** A roster's rows are for those who may see the roster. */
@Component
class RosterSeen implements RosterSight {

    private final Rosters rosters;

    RosterSeen(Rosters rosters) {
        this.rosters = rosters;
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
