package org.gantrel.service.run;

import java.util.List;
import org.gantrel.core.run.Effect;

/** A move that is written down: the run as it is now, and what is to be done once that is durable. */
public record Moved(Run run, List<Effect> effects) {

    /** Whether the run ended with it. */
    public boolean ended() {
        return run.state().isEnded();
    }
}
