package org.gantrel.service.journal;

import java.io.Closeable;
import org.gantrel.service.team.Caller;

/** The logs of runs as they grow, for a stream that carries them beside the journal's events. */
public interface LiveLogs {

    /** Where what is new goes. */
    interface Sink {

        /** @return false where the reader is behind; the same is then offered again a little later */
        boolean offer(String topic, Object data);
    }

    /**
     * Follows one log until it ends or the following is closed.
     *
     * @param asked a run's number, and after an {@code @} the byte to go on from, such as {@code 1204@8192}
     * @throws org.gantrel.service.refusal.Refusal where the caller may not see the run, or follows too much
     */
    Closeable follow(Caller caller, String asked, Sink sink);
}
