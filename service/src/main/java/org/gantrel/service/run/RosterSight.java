package org.gantrel.service.run;

import org.gantrel.service.team.Caller;

/** Says whether somebody may take the rows of a roster. */
public interface RosterSight {

    /**
     * Checks it.
     *
     * @throws org.gantrel.core.problem.InvalidException where there is no such roster, or none that the caller may see
     */
    void require(Caller caller, String roster);
}
