package org.gantrel.service.run;

import java.util.Locale;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.job.Step.Which;
import org.gantrel.core.roster.Roster.AfterFailure;

/**
 * A job is to run over a roster.
 *
 * @param rows which rows: {@code all}, {@code failed} for those that ended badly last time, {@code failed-of-4711} for those
 *     of one run ({@code good-of-4711}, {@code all-of-4711}), or places such as {@code 1,4-7}
 * @param atOnce how many at once; nothing for what the roster says
 * @param afterFailure what follows a row that ended badly; nothing for what the roster says
 */
public record SweepRequest(String roster, String rows, Optional<Integer> atOnce, Optional<AfterFailure> afterFailure) {

    public static final String ALL = "all";
    public static final String FAILED = "failed";
    private static final Pattern OF_A_RUN = Pattern.compile("(all|good|failed)-of-(\\d{1,18})");

    /** Rows of another run. */
    public record RowsOfRun(Which which, long run) {
        @Override
        public String toString() {
            return which.word() + "-of-" + run;
        }
    }

    /** Those rows of a run that ended badly. */
    public static String failedOf(long run) {
        return new RowsOfRun(Which.FAILED, run).toString();
    }

    /** The run whose rows are meant; nothing where others are. */
    public static Optional<RowsOfRun> ofRun(String rows) {
        Matcher matcher = OF_A_RUN.matcher(rows);
        return matcher.matches()
                ? Optional.of(new RowsOfRun(
                        Which.valueOf(matcher.group(1).toUpperCase(Locale.ROOT)), Long.parseLong(matcher.group(2))))
                : Optional.empty();
    }

    /** Whether rows are meant by their places. */
    public static boolean isPlaces(String rows) {
        return !rows.equals(ALL) && !rows.equals(FAILED) && ofRun(rows).isEmpty();
    }

    /** The same roster with some rows only. */
    public SweepRequest only(RowsOfRun those) {
        return new SweepRequest(roster, those.toString(), atOnce, afterFailure);
    }

    /** Every row, as the roster says. */
    public static SweepRequest all(String roster) {
        return new SweepRequest(roster, ALL, Optional.empty(), Optional.empty());
    }
}
