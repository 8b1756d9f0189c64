package org.gantrel.service.places;

import java.io.IOException;

/** A place that a job may not reach. The message says no more than was asked: not whether anything is there. */
public final class NotReachable extends IOException {

    public NotReachable(String message) {
        super(message);
    }
}
