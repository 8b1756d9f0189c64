package org.gantrel.core.run;

import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;

/**
 * What becomes of a run while another of its job is under way.
 *
 * @param sideBySide how many may be under way together
 * @param apartBy the parameters whose values tell runs apart, so that only those with the same values count together; empty
 *     where all runs of the job count together
 */
public record Overlap(Mode mode, int sideBySide, List<String> apartBy) {

    /** What becomes of the run that comes later. */
    public enum Mode {
        /** It waits until there is room. */
        WAIT,
        /** It is skipped. */
        SKIP,
        /** It takes the place of the earlier one, which is stopped. */
        REPLACE;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        public static Optional<Mode> of(String word) {
            return Arrays.stream(values())
                    .filter(each -> each.word().equals(word))
                    .findFirst();
        }
    }

    /** What holds where a definition says nothing. */
    public static final Overlap USUAL = new Overlap(Mode.WAIT, 1, List.of());

    public static final int MOST = 1_000;

    public Overlap {
        apartBy = List.copyOf(apartBy);
    }

    /** The same for a run that has been under way before: it waits for its turn, whatever others of its job do. */
    public Overlap waiting() {
        return new Overlap(Mode.WAIT, sideBySide, apartBy);
    }

    /** What a run of a job counts as; runs of the same crowd keep each other waiting. */
    public Crowd crowd(String job, Map<String, String> values) {
        Map<String, String> telling = new LinkedHashMap<>();
        apartBy.forEach(name -> telling.put(name, values.getOrDefault(name, "")));
        return new Crowd(job, telling);
    }

    /** What a definition says of it, in one word or number. */
    public String word() {
        return mode == Mode.WAIT && sideBySide > 1 ? String.valueOf(sideBySide) : mode.word();
    }
}
