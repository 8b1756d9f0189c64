package org.gantrel.core.run;

import java.util.Arrays;
import java.util.Locale;
import java.util.Optional;

/** What started a run. */
public enum CauseKind {
    SCHEDULE,
    PERSON,
    TRIGGER,
    CHAIN,
    SWEEP,
    REPEAT,
    RETRY;

    /** The word for it in the command line and in JSON. */
    public String word() {
        return name().toLowerCase(Locale.ROOT);
    }

    public static Optional<CauseKind> of(String word) {
        return Arrays.stream(values()).filter(kind -> kind.word().equals(word)).findFirst();
    }
}
