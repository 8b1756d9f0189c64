package org.gantrel.client.api;

/** No service answers. */
public final class Unreachable extends RuntimeException {

    Unreachable(String message) {
        super(message);
    }
}
