package org.gantrel.service.refusal;

import org.springframework.http.HttpStatus;

/** A call that is turned down, with the status and the sentence that its answer carries (RFC 9457). */
public final class Refusal extends RuntimeException {

    private final HttpStatus status;
    private final transient String title;

    private Refusal(HttpStatus status, String title, String detail) {
        super(detail);
        this.status = status;
        this.title = title;
    }

    public static Refusal notSignedIn(String detail) {
        return new Refusal(HttpStatus.UNAUTHORIZED, "Not signed in", detail);
    }

    public static Refusal notAllowed(String detail) {
        return new Refusal(HttpStatus.FORBIDDEN, "Not allowed", detail);
    }

    public static Refusal notFound(String detail) {
        return new Refusal(HttpStatus.NOT_FOUND, "Not found", detail);
    }

    public static Refusal conflict(String detail) {
        return new Refusal(HttpStatus.CONFLICT, "Conflict", detail);
    }

    /** Someone else has changed it since it was read. */
    public static Refusal changedMeanwhile(String detail) {
        return new Refusal(HttpStatus.PRECONDITION_FAILED, "Changed meanwhile", detail);
    }

    /** An edit has to say which revision it is an edit of. */
    public static Refusal revisionNeeded(String detail) {
        return new Refusal(HttpStatus.PRECONDITION_REQUIRED, "Revision needed", detail);
    }

    public static Refusal tooMany(String detail) {
        return new Refusal(HttpStatus.TOO_MANY_REQUESTS, "Too many", detail);
    }

    public HttpStatus status() {
        return status;
    }

    public String title() {
        return title;
    }
}
