package org.gantrel.service.credential;

/** Secrets that others keep under the same key. */
public interface SealedValues {

    /** Seals them again under the newest key; says how many there are. */
    int sealAgain();
}
