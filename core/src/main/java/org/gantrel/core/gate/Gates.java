package org.gantrel.core.gate;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;

/**
 * The gates of a job and the patience with them. Pure: what was seen is given.
 *
 * @param lookEvery how often they are looked at
 * @param patience how long after the planned time they are waited for
 * @param skips whether a run whose patience is over is skipped; it fails otherwise
 */
public record Gates(List<Gate> all, Duration lookEvery, Duration patience, boolean skips) {

    public static final Gates NONE = new Gates(List.of(), Duration.ofSeconds(30), Duration.ofHours(2), true);
    public static final Duration SHORTEST_LOOK = Duration.ofSeconds(1);

    /** What a look at a gate gave. */
    public record Look(boolean open, String saw) {}

    /** What follows from a look at all gates. */
    public sealed interface Verdict {
        /** All hold. */
        record Open() implements Verdict {}

        /** One does not hold yet. */
        record Wait(Instant next, String on) implements Verdict {}

        /** The patience is over. */
        record GiveUp(Ending ending) implements Verdict {}
    }

    public Gates {
        all = List.copyOf(all);
    }

    /** The names of the credentials that looks at them use. */
    public List<String> credentials() {
        return all.stream()
                .map(Gate::credential)
                .filter(name -> !name.isEmpty())
                .distinct()
                .toList();
    }

    public boolean isEmpty() {
        return all.isEmpty();
    }

    /** The same, each worked out as far as it can be, so that it is said what is waited for. */
    public Gates worded(Bindings known) {
        return new Gates(all.stream().map(gate -> worded(gate, known)).toList(), lookEvery, patience, skips);
    }

    private static Gate worded(Gate gate, Bindings known) {
        try {
            return gate.fill(known);
        } catch (ExpressionException e) {
            return gate;
        }
    }

    /** Those of them that are meant, with the same patience. */
    public Gates only(Predicate<Gate> meant) {
        return new Gates(all.stream().filter(meant).toList(), lookEvery, patience, skips);
    }

    /** Decides; looks are in the order of the gates. */
    public Verdict decide(List<Look> looks, Instant since, Instant now) {
        Optional<String> shut = firstShut(looks);
        if (shut.isEmpty()) {
            return new Verdict.Open();
        }
        Instant end = since.plus(patience);
        if (!now.isBefore(end)) {
            if (all.get(0) instanceof Gate.ToldStart) {
                return new Verdict.GiveUp(
                        new Ending(RunState.MISSED, "nobody told of its start within " + Words.duration(patience)));
            }
            String message = "waited " + Words.duration(patience) + " for " + shut.get()
                    + (looks.isEmpty() ? ": no look at it was over in that time" : "");
            return new Verdict.GiveUp(new Ending(skips ? RunState.SKIPPED : RunState.FAILED, message));
        }
        Instant next = now.plus(lookEvery);
        return new Verdict.Wait(next.isAfter(end) ? end : next, shut.get());
    }

    private Optional<String> firstShut(List<Look> looks) {
        for (int i = 0; i < all.size(); i++) {
            if (i >= looks.size() || !looks.get(i).open()) {
                return Optional.of(all.get(i).words()
                        + (i < looks.size() ? ": " + looks.get(i).saw() : ""));
            }
        }
        return Optional.empty();
    }
}
