package org.gantrel.service.database;

/** No driver takes an address; the message is for people. */
public final class DriverMissing extends RuntimeException {

    private static final long serialVersionUID = 1L;

    DriverMissing(String message) {
        super(message);
    }
}
