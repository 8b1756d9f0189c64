package org.gantrel.service.run;

import java.util.Optional;
import org.gantrel.core.roster.Roster.AfterFailure;

/**
 * A job is to run over a roster.
 *
 * @param rows which rows: {@code all}, {@code failed} for those that ended badly last time, or places such as
 *     {@code 1,4-7}
 * @param atOnce how many at once; nothing for what the roster says
 * @param afterFailure what follows a row that ended badly; nothing for what the roster says
 */
public record SweepRequest(String roster, String rows, Optional<Integer> atOnce, Optional<AfterFailure> afterFailure) {

    public static final String ALL = "all";
    public static final String FAILED = "failed";

    /** Every row, as the roster says. */
    public static SweepRequest all(String roster) {
        return new SweepRequest(roster, ALL, Optional.empty(), Optional.empty());
    }
}
