package org.gantrel.core.notification;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.run.RunState;

/** What people can be told of. */
public enum Happening {
    SUCCEEDED,
    WARNED,
    FAILED,
    TIMED_OUT,
    CANCELLED,
    SKIPPED,
    MISSED,
    LATE,
    /** A deadline will probably be missed. */
    AT_RISK,
    LONG,
    WAITS_LONG,
    APPROVAL,
    RECOVERED,
    /** What a job's {@code expect} asks for has not come. */
    SILENCE,
    CREDENTIAL_EXPIRING,
    SERVICE_WAS_DOWN,
    BACKUP_FAILED;

    /** What opens a fault, or keeps it open. */
    private static final Set<RunState> BAD = Set.of(RunState.FAILED, RunState.TIMED_OUT, RunState.MISSED);

    /** What a rule tells of that says nothing of it. */
    public static final Set<Happening> USUAL = Set.of(FAILED, TIMED_OUT, MISSED, LATE, RECOVERED, SILENCE);

    public String word() {
        return name().toLowerCase(Locale.ROOT).replace('_', '-');
    }

    public static List<String> words() {
        return Arrays.stream(values()).map(Happening::word).toList();
    }

    public static Optional<Happening> of(String word) {
        return Arrays.stream(values()).filter(each -> each.word().equals(word)).findFirst();
    }

    /** The end of a run. */
    public static Optional<Happening> of(RunState state) {
        return of(state.word());
    }

    /** Whether an end is a fault, which lasts until a good one. */
    public static boolean isFault(RunState state) {
        return BAD.contains(state);
    }

    /** Whether an end closes a fault. One that was cancelled or skipped says nothing about that. */
    public static boolean isGood(RunState state) {
        return state == RunState.SUCCEEDED || state == RunState.WARNED;
    }

    /** Whether it is the end of a run that makes a fault. */
    public boolean isFault() {
        return this == FAILED || this == TIMED_OUT || this == MISSED;
    }
}
