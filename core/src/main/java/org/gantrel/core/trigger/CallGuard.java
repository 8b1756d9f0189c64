package org.gantrel.core.trigger;

import java.time.Duration;

/**
 * What a call from outside has to show.
 *
 * @param proof a token that it brings along, or a signature over what it says
 * @param credential where the token or the key of the signature is kept
 * @param within how old a signed call may be, by the time that it says
 * @param mostAMinute how many calls are taken in a minute
 */
public record CallGuard(Proof proof, String credential, Duration within, int mostAMinute) {

    public static final Duration USUALLY_WITHIN = Duration.ofMinutes(5);
    public static final int USUAL_MOST = 60;
    public static final int HIGHEST_MOST = 6_000;

    /** How a call shows that it may come. */
    public enum Proof {
        TOKEN,
        SIGNATURE
    }
}
