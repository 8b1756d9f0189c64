package org.gantrel.service.run;

import java.util.Optional;
import org.gantrel.service.team.Caller;

/** Says whether somebody may take the rows of a roster. */
public interface RosterSight {

    /**
     * Checks it.
     *
     * @throws org.gantrel.core.problem.InvalidException where there is no such roster, or none that the caller may see
     */
    void require(Caller caller, String roster);

    /** What runs those rows of a run again that ended badly; nothing where none did. */
    Optional<SweepRequest> failedOf(long run);
}
