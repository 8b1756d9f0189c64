package org.gantrel.core.text;

import java.util.Map;

/**
 * An environment (POSIX, Base Definitions, chapter 8) as it was before {@code bin/gantrel} chose a locale for its own sake: what
 * it starts for others finds what they had.
 */
public final class LocaleBefore {

    /** What was found as LC_ALL where another was set; empty where there was none. */
    private static final String FOUND = "GANTREL_LC_ALL";

    private LocaleBefore() {}

    /** Brings an environment back to what it was; does nothing where no locale was chosen. */
    public static void in(Map<String, String> environment) {
        String found = environment.remove(FOUND);
        if (found != null && !found.isEmpty()) {
            environment.put("LC_ALL", found);
        } else if (found != null) {
            environment.remove("LC_ALL");
        }
    }
}
