package org.gantrel.core.schedule;

import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Optional;

/**
 * What to do with occurrences that were due while the service was down or the schedule was off.
 *
 * @param within how old an occurrence may be to be started after all
 */
public record CatchUp(Policy policy, Duration within) {

    public static final CatchUp NONE = new CatchUp(Policy.RECORD, Duration.ofHours(24));

    /** Which of them are started after all. */
    public enum Policy {
        /** None; they are recorded. */
        RECORD,
        /** The latest alone. */
        LATEST,
        /** Each, one after the other. */
        EACH;

        /** The word for it in definition files and JSON. */
        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        public static Optional<Policy> of(String word) {
            return Arrays.stream(values())
                    .filter(policy -> policy.word().equals(word))
                    .findFirst();
        }

        /** All words for policies. */
        public static List<String> words() {
            return Arrays.stream(values()).map(Policy::word).toList();
        }
    }
}
