package org.gantrel.core.run;

/** Whom a run acts as, in words. */
public final class ActsAs {

    /** Work in the service itself that needs no account and names no credential. */
    public static final String IN_SERVICE = "the service";

    private ActsAs() {}

    /** What follows "ran" or "started": {@code " as mara"}, {@code " in the service"}, or nothing for a chain. */
    public static String words(String identity) {
        return identity.isEmpty() ? "" : identity.equals(IN_SERVICE) ? " in " + IN_SERVICE : " as " + identity;
    }
}
