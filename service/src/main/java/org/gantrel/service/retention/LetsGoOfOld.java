package org.gantrel.service.retention;

import java.time.Instant;

/** A feature that keeps something of what happened, beside the events themselves. */
public interface LetsGoOfOld {

    /** Lets go, in a transaction of its own, of what is older than the events that are kept. */
    void letGoBefore(Instant before);
}
