package org.gantrel.service.lane;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.List;
import java.util.Set;

/** Who uses a lane; those who keep jobs know. */
public interface LaneUse {

    /** The jobs in use that need a lane: their names with the places that each takes. */
    List<Needing> needing(String lane);

    /** The jobs, retired ones too, whose runs may have taken places in a lane since a moment. */
    Needed needed(String lane, Instant since);

    /**
     * Jobs whose runs may have taken places in a lane.
     *
     * @param jobs their ids
     * @param byChains whether chains have had a part in that: a step may take other places than its job says, or none
     */
    record Needed(Set<Long> jobs, boolean byChains) {}

    /**
     * A job that needs places in a lane.
     *
     * @param step the step of a chain that needs them though its job does not; missing where it is the job itself
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Needing(String job, String team, String step, int places) {

        String words() {
            return step == null ? job : "step " + step + " of " + job;
        }
    }
}
