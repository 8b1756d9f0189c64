package org.gantrel.client;

/** Something about the call itself is wrong; the command ends with exit code 2. */
public final class Wrong extends RuntimeException {

    public Wrong(String message) {
        super(message);
    }
}
