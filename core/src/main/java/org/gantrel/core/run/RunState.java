package org.gantrel.core.run;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/** Where a run is: it waits, it goes, or it ended in one of eight ways. */
public enum RunState {
    WAITING(false, false),
    RUNNING(false, false),
    SUCCEEDED(true, false),
    WARNED(true, false),
    FAILED(true, true),
    TIMED_OUT(true, true),
    CANCELLED(true, true),
    SKIPPED(true, false),
    MISSED(true, true);

    private final boolean ended;
    private final boolean bad;

    RunState(boolean ended, boolean bad) {
        this.ended = ended;
        this.bad = bad;
    }

    public boolean isEnded() {
        return ended;
    }

    /** Ended without the work being done. */
    public boolean isBad() {
        return bad;
    }

    /** Ended with the work done. */
    public boolean isGood() {
        return this == SUCCEEDED || this == WARNED;
    }

    /** The word for it in the command line and in JSON. */
    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static Optional<RunState> of(String word) {
        return Arrays.stream(values())
                .filter(state -> state.word().equals(word))
                .findFirst();
    }

    /** All words for states. */
    public static List<String> words() {
        return Arrays.stream(values()).map(RunState::word).toList();
    }
}
