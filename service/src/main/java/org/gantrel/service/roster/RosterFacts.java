package org.gantrel.service.roster;

import java.util.Optional;

/** What rosters are shown with and know nothing of themselves. */
public interface RosterFacts {

    /** The number of the latest run over a roster. */
    Optional<Long> lastSweep(long roster);
}
