package org.gantrel.service.work;

/** Execution that came to a bad end, with the sentence that says why. */
final class WorkFailed extends RuntimeException {

    WorkFailed(String message) {
        super(message);
    }
}
