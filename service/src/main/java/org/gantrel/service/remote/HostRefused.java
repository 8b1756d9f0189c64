package org.gantrel.service.remote;

import java.io.IOException;

/** A host that must not be spoken to: its key is not the one that is known of it. */
final class HostRefused extends IOException {
    private static final long serialVersionUID = 1L;

    HostRefused(String message) {
        super(message);
    }
}
