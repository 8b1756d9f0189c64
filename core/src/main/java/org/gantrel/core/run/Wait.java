package org.gantrel.core.run;

import java.util.Locale;
import org.gantrel.core.text.Words;

/**
 * What a run waits for.
 *
 * @param on the lane, gate, hold or job that it waits for; empty where there is but one of the kind
 * @param text the same for people, to follow "waits for"
 */
public record Wait(Kind kind, String on, String text) {

    /**
     * The wait of a run for others of its crowd; so many that nobody wants their numbers are counted.
     *
     * @param count how many are under way
     * @param first the number of one of them; below 0 where it has none yet
     */
    public static Wait forOthers(Crowd crowd, int count, long first) {
        if (count == 1 && first < 0) {
            return forEarlier(crowd.text());
        }
        String which = count == 1 ? "run " + first : "one of " + Words.count(count, "run");
        return new Wait(Kind.OVERLAP, crowd.text(), which + " of " + crowd.text() + " to end");
    }

    /** The wait for an earlier run of a crowd whose number nobody knows yet. */
    public static Wait forEarlier(String crowd) {
        return new Wait(Kind.OVERLAP, crowd, "an earlier run of " + crowd + " to end");
    }

    /** Whether it is for the same thing, though in other words: who is in a lane changes, and is one reason. */
    public boolean isSameAs(Wait other) {
        return kind == other.kind && on.equals(other.on);
    }

    /** Whether it is for a lane, for places in it or for it to let anybody in. */
    public boolean isForLane(String lane) {
        return (kind == Kind.LANE || kind == Kind.SHUT) && on.equals(lane);
    }

    /** The same where runs are played ahead, and have no numbers by which others could know them. */
    public Wait unnumbered() {
        return switch (kind) {
            case OVERLAP -> forEarlier(on);
            case CIRCLE -> new Wait(kind, "", "a run to end that holds what its own steps need");
            default -> this;
        };
    }

    /** The kinds of things that runs wait for. */
    public enum Kind {
        /** A place of the service. */
        PLACE,
        /** Places in a lane. */
        LANE,
        /** A lane that does not let it in however empty it is: it is closed, gone or too narrow. */
        SHUT,
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
            return (this == SHUT ? LANE : this).name().toLowerCase(Locale.ROOT);
        }
    }
}
