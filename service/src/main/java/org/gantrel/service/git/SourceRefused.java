package org.gantrel.service.git;

import java.io.IOException;

/** A repository that is not to be asked, or does not have what is asked for, however it answers. */
final class SourceRefused extends IOException {

    private static final long serialVersionUID = 1L;

    SourceRefused(String message) {
        super(message);
    }
}
