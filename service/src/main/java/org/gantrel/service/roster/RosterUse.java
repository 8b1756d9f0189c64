package org.gantrel.service.roster;

import org.gantrel.service.team.Caller;

/** Who runs over a roster; those who keep jobs know. */
public interface RosterUse {

    /**
     * Refuses to take a roster out of use that is used.
     *
     * @throws org.gantrel.service.refusal.Refusal naming the users that the caller may see
     */
    void refuseWhereUsed(Caller caller, String roster);
}
