package org.gantrel.service.refusal;

import java.time.Duration;
import java.util.Optional;
import org.springframework.http.HttpStatus;

/** A call that is turned down, with the status and the sentence that its answer carries (RFC 9457). */
public final class Refusal extends RuntimeException {

    private final HttpStatus status;
    private final transient String title;
    private final long again;

    private Refusal(HttpStatus status, String title, String detail) {
        this(status, title, detail, 0);
    }

    private Refusal(HttpStatus status, String title, String detail, long again) {
        super(detail);
        this.status = status;
        this.title = title;
        this.again = again;
    }

    public static Refusal notUnderstood(String detail) {
        return new Refusal(HttpStatus.BAD_REQUEST, "Not understood", detail);
    }

    public static Refusal otherType(String given) {
        return new Refusal(
                HttpStatus.UNSUPPORTED_MEDIA_TYPE,
                "Type not supported",
                "the body of a call is JSON in UTF-8 and says so: Content-Type: application/json, not '"
                        + (given.length() > 60 ? given.substring(0, 60) + "..." : given) + "'");
    }

    public static Refusal tooLarge(long most) {
        return new Refusal(
                HttpStatus.CONTENT_TOO_LARGE, "Too large", "the body of this call may have " + most + " bytes");
    }

    public static Refusal tooSlow(Duration patience) {
        return new Refusal(
                HttpStatus.REQUEST_TIMEOUT,
                "Too slow",
                "the body of this call did not arrive within " + patience.toSeconds() + " s");
    }

    /** The service's own disk is full, or cannot be written. */
    public static Refusal noRoom(String detail) {
        return new Refusal(HttpStatus.INSUFFICIENT_STORAGE, "No room", detail);
    }

    /** Whether it is for want of room. */
    public boolean isNoRoom() {
        return status == HttpStatus.INSUFFICIENT_STORAGE;
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

    /** More than one may ask for at once; after a moment it goes again. */
    public static Refusal tooMany(String detail) {
        return tooMany(detail, Duration.ofSeconds(1));
    }

    /** @param again after what time a try makes sense; in seconds, rounded up, in the answer's Retry-After */
    public static Refusal tooMany(String detail, Duration again) {
        return new Refusal(
                HttpStatus.TOO_MANY_REQUESTS,
                "Too many",
                detail,
                Math.max(1, again.plusMillis(999).toSeconds()));
    }

    /** After how many seconds a further try makes sense (RFC 9110, 10.2.3); nothing where that says nothing. */
    public Optional<Long> again() {
        return again == 0 ? Optional.empty() : Optional.of(again);
    }

    public HttpStatus status() {
        return status;
    }

    public String title() {
        return title;
    }
}
