package org.gantrel.service.lane;

import java.util.List;

/** Who uses a lane; those who keep jobs know. */
public interface LaneUse {

    /** The jobs in use that need a lane: their names with the places that each takes. */
    List<Needing> needing(String lane);

    /** A job that needs places in a lane. */
    record Needing(String job, String team, int places) {}
}
