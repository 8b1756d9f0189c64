package org.gantrel.core.chain;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.run.RunState;

/**
 * Where a step of a chain's run is, once something has become of it.
 *
 * @param place what has become of it
 * @param state that of its run, or how it ended
 */
public record StepNow(Place place, RunState state) {

    /** What becomes of a step. */
    public enum Place {
        PENDING,
        BEGINS,
        UNDER_WAY,
        ENDED,
        OUT_OF_REACH
    }

    /** One that can no longer begin. */
    public static final StepNow OUT = new StepNow(Place.OUT_OF_REACH, RunState.SKIPPED);

    /** One whose run is in a state. */
    public static StepNow of(RunState state) {
        return new StepNow(state.isEnded() ? Place.ENDED : Place.UNDER_WAY, state);
    }

    public boolean isEnded() {
        return place == Place.ENDED;
    }

    /**
     * What expressions can say of it where nothing more is known than where it is; nothing while it goes on.
     *
     * @param results those that it is supposed to have given
     */
    public Optional<StepFacts.Fact> fact(Map<String, String> results) {
        return switch (place) {
            case OUT_OF_REACH -> Optional.of(StepFacts.Fact.of("out-of-reach"));
            case ENDED ->
                Optional.of(new StepFacts.Fact(
                        state.word(),
                        Optional.empty(),
                        state.isGood() ? Optional.of(0) : Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        results,
                        Map.of()));
            default -> Optional.empty();
        };
    }

    /** Whether nothing more comes of it by itself. */
    public boolean isSettled() {
        return place == Place.ENDED || place == Place.OUT_OF_REACH;
    }

    /**
     * Whether what has to come by a time still has it.
     *
     * @param by nothing where there is no such time
     */
    public static boolean isOver(Optional<Instant> by, Instant now) {
        return by.filter(at -> !now.isBefore(at)).isPresent();
    }
}
