package org.gantrel.core.run;

import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;

/** What it means that there is nothing: no row of a query, no file, no row of a roster. */
public enum Emptiness {
    SUCCEEDED(RunState.SUCCEEDED),
    WARNED(RunState.WARNED),
    FAILED(RunState.FAILED);

    private final RunState state;

    Emptiness(RunState state) {
        this.state = state;
    }

    /** The word for it in definition files. */
    public String word() {
        return state.word();
    }

    /** All words, in the order of the values. */
    public static List<String> words() {
        return Stream.of(values()).map(Emptiness::word).toList();
    }

    /** The end that it means, where it is no success. */
    public Optional<Ending> ending(String sentence) {
        return this == SUCCEEDED ? Optional.empty() : Optional.of(new Ending(state, sentence));
    }
}
