package org.gantrel.core.run;

import java.util.Set;

/**
 * Which exit codes of a command mean success and which success with warnings; all others mean failure.
 *
 * @param succeeded 0 unless the job says otherwise
 * @param warned none unless the job says otherwise
 */
public record ExitRule(Set<Integer> succeeded, Set<Integer> warned) {

    public static final ExitRule USUAL = new ExitRule(Set.of(0), Set.of());

    private static final int KILL = 9;

    public ExitRule {
        succeeded = Set.copyOf(succeeded);
        warned = Set.copyOf(warned);
    }

    /** What an exit code means. Codes above 128 are a signal's, as POSIX shells count them. */
    public Ending ending(int code) {
        if (succeeded.contains(code)) {
            return new Ending(RunState.SUCCEEDED, "exit code " + code);
        }
        if (warned.contains(code)) {
            return new Ending(RunState.WARNED, "exit code " + code + ", which this job counts as a warning");
        }
        String signal = code > 128 && code < 193 ? " (ended by signal " + (code - 128) + ")" : "";
        // nothing else in a run says that the host was short of memory
        String why = code == 128 + KILL ? ": somebody killed it, or the host did, where memory ran out" : "";
        return new Ending(RunState.FAILED, "exit code " + code + signal + why);
    }
}
