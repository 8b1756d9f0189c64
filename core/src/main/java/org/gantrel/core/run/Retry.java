package org.gantrel.core.run;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.text.SafePattern;

/**
 * Whether and when work that ended badly is tried again, within the same run.
 *
 * @param tries how many there are in all, the first counted
 * @param pause how long after the end of the first the second comes
 * @param growth what each further wait is multiplied by
 * @param longest no wait is longer
 * @param after the ends after which it is tried again
 * @param codes the exit codes after which it is; empty for any
 * @param messages what the end's message has to hold one of; empty for any
 */
public record Retry(
        int tries,
        Duration pause,
        double growth,
        Duration longest,
        Set<RunState> after,
        Set<Integer> codes,
        List<SafePattern> messages) {

    public static final Retry NEVER = new Retry(1, Duration.ZERO, 1, Duration.ZERO, Set.of(), Set.of(), List.of());
    public static final int MOST_TRIES = 100;

    /** How far a clock is put back without anybody minding, for one. */
    private static final Duration SLACK = Duration.ofSeconds(10);

    /**
     * How large all patterns for messages may be together, in instructions: they are looked for where each end is written
     * down.
     */
    public static final int LARGEST_MESSAGES = 2_500;

    public Retry {
        after = Set.copyOf(after);
        codes = Set.copyOf(codes);
        messages = List.copyOf(messages);
    }

    /** How long after a try's end the next one comes; nothing where none does. */
    public Optional<Duration> next(int attempt, Ending ending, Optional<Integer> code) {
        boolean wanted = attempt < tries
                && after.contains(ending.state())
                && (codes.isEmpty() || code.filter(codes::contains).isPresent())
                && (messages.isEmpty() || isAbout(ending.message()));
        return wanted ? Optional.of(waitAfter(attempt)) : Optional.empty();
    }

    /** Those of old that are too large together, or too much for the message, are not looked for. */
    private boolean isAbout(String message) {
        int size = 0;
        for (SafePattern each : messages) {
            size += each.size();
            if (size > LARGEST_MESSAGES) {
                return false;
            }
            try {
                if (each.isIn(message)) {
                    return true;
                }
            } catch (SafePattern.TooMuch e) {
                // the next may be found
            }
        }
        return false;
    }

    /**
     * Whether a further try is still to come. One that lies much further ahead than the wait before it is due: the clock was
     * put back since it was planned.
     *
     * @param number the try that it is, from 2 on
     * @param at for when it was planned
     */
    public boolean isToCome(int number, Instant at, Instant now) {
        return at.isAfter(now) && !at.isAfter(now.plus(waitAfter(number - 1)).plus(SLACK));
    }

    private Duration waitAfter(int attempt) {
        double seconds = pause.toMillis() * Math.pow(growth, attempt - 1.0);
        return seconds >= longest.toMillis() ? longest : Duration.ofMillis(Math.round(seconds));
    }
}
