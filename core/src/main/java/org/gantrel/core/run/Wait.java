package org.gantrel.core.run;

import java.util.Locale;

/**
 * What a run waits for.
 *
 * @param on the lane, gate, hold or job that it waits for; empty where there is but one of the kind
 * @param text the same for people, to follow "waits for"
 */
public record Wait(Kind kind, String on, String text) {

    /** The kinds of things that runs wait for. */
    public enum Kind {
        /** A place of the service. */
        PLACE,
        /** Places in a lane. */
        LANE,
        /** Another run of its job. */
        OVERLAP,
        /** A gate. */
        GATE,
        /** The end of a hold. */
        HOLD,
        /** Its next try. */
        RETRY,
        /** A parent that holds what its parts need. */
        CIRCLE;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }
}
