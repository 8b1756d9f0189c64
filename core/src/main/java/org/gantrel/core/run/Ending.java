package org.gantrel.core.run;

/** How a run ended, with the sentence that says why. */
public record Ending(RunState state, String message) {

    public Ending {
        if (!state.isEnded()) {
            throw new IllegalArgumentException(state + " is not an end");
        }
    }
}
