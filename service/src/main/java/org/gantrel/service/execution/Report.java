package org.gantrel.service.execution;

import java.time.Instant;
import org.gantrel.service.run.Finish;

/** What those who do the work tell the engine of it. */
public sealed interface Report {

    long number();

    /**
     * The work could not be begun.
     *
     * @param unsure whether it may have begun all the same
     */
    record Refused(long number, String why, boolean unsure) implements Report {}

    /** The work is over, and nothing of it is alive any more. */
    record Ended(long number, Finish finish, Instant at) implements Report {}

    /** It was under way when the service stopped, and has not ended as far as can be told now. */
    record GoesOn(long number) implements Report {}

    /** Something that belongs into the run's timeline. */
    record News(long number, String text) implements Report {}
}
