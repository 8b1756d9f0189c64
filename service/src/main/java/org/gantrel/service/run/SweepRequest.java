package org.gantrel.service.run;

import java.util.Optional;
import org.gantrel.core.roster.Roster.AfterFailure;

/**
 * A job is to run over a roster.
 *
 * @param rows which rows: {@code all}, {@code failed} for those that ended badly last time, {@code failed-of-4711} for those
 *     of one run, or places such as {@code 1,4-7}
 * @param atOnce how many at once; nothing for what the roster says
 * @param afterFailure what follows a row that ended badly; nothing for what the roster says
 */
public record SweepRequest(String roster, String rows, Optional<Integer> atOnce, Optional<AfterFailure> afterFailure) {

    public static final String ALL = "all";
    public static final String FAILED = "failed";
    private static final String FAILED_OF = "failed-of-";

    /** Those rows of a run that ended badly. */
    public static String failedOf(long run) {
        return FAILED_OF + run;
    }

    /** The run whose rows that ended badly are meant; nothing where others are. */
    public static Optional<Long> failedOf(String rows) {
        return rows.matches(FAILED_OF + "\\d{1,18}")
                ? Optional.of(Long.parseLong(rows.substring(FAILED_OF.length())))
                : Optional.empty();
    }

    /** Whether rows are meant by their places. */
    public static boolean isPlaces(String rows) {
        return !rows.equals(ALL) && !rows.equals(FAILED) && failedOf(rows).isEmpty();
    }

    /** Every row, as the roster says. */
    public static SweepRequest all(String roster) {
        return new SweepRequest(roster, ALL, Optional.empty(), Optional.empty());
    }
}
