package org.gantrel.core.job;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** What becomes of processes that a command leaves behind when it ends. */
public enum Leftovers {
    /** They are ended too, and only then has the run ended. */
    END,
    /** They go on, and nobody looks after them. */
    LET_GO;

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static Optional<Leftovers> of(String word) {
        return Arrays.stream(values()).filter(each -> each.word().equals(word)).findFirst();
    }

    public static List<String> words() {
        return Arrays.stream(values()).map(Leftovers::word).toList();
    }
}
