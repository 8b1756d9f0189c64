package org.gantrel.service.retention;

import java.util.List;

/** A feature that keeps something of runs. */
public interface LetsGo {

    /** Those of some runs that it still needs: something is owed to them. */
    default List<Long> owed(List<Long> runs) {
        return List.of();
    }

    /** Lets go, in the transaction under way, of what it keeps of runs that are about to go. */
    void letGo(List<Long> runs);
}
