package org.gantrel.service.work;

/** Execution that came to a bad end, with the sentence that says why. */
public final class WorkFailed extends RuntimeException {

    public WorkFailed(String message) {
        super(message);
    }
}
