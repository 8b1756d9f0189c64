package org.gantrel.core.forecast;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.run.Wait;

/**
 * When a run may not begin, whatever room there is.
 *
 * @param off times in which it is kept from that
 * @param opens when it may begin at the earliest
 * @param windowEnd from when on it does not begin any more, and does not go on
 */
public record Bounds(List<Off> off, Optional<Instant> opens, Optional<Instant> windowEnd) {

    public static final Bounds NONE = new Bounds(List.of(), Optional.empty(), Optional.empty());

    /**
     * A time in which a run does not begin.
     *
     * @param until nothing where nobody knows its end
     * @param skips whether what would begin in it is skipped; it waits for the end otherwise
     */
    public record Off(Instant from, Optional<Instant> until, boolean skips, Wait why) {

        private boolean isOn(Instant now) {
            return !now.isBefore(from)
                    && until.filter(end -> !now.isBefore(end)).isEmpty();
        }
    }

    /** The same with another time in which the run does not begin. */
    public Bounds and(Off other) {
        return new Bounds(Stream.concat(off.stream(), Stream.of(other)).toList(), opens, windowEnd);
    }

    /** The same, where what would be skipped is kept. */
    public Bounds keeping() {
        return new Bounds(
                off.stream()
                        .map(each -> new Off(each.from(), each.until(), false, each.why()))
                        .toList(),
                opens,
                windowEnd);
    }

    /** What keeps a run from beginning at a moment; what skips goes before what keeps. */
    Optional<Off> at(Instant now) {
        return off.stream().filter(each -> each.isOn(now)).min(Comparator.comparing(each -> !each.skips()));
    }

    boolean isOver(Instant now) {
        return windowEnd.filter(end -> !now.isBefore(end)).isPresent();
    }

    /** The earlier of a moment and the end of the window. */
    Instant within(Instant end) {
        return windowEnd.filter(end::isAfter).orElse(end);
    }

    /** The next moment at which what keeps a run from beginning may be something else. */
    Optional<Instant> turn(Instant after) {
        return off.isEmpty() && windowEnd.isEmpty()
                ? Optional.empty()
                : Stream.concat(
                                off.stream()
                                        .flatMap(each -> Stream.concat(Stream.of(each.from()), each.until().stream())),
                                windowEnd.stream())
                        .filter(at -> at.isAfter(after))
                        .min(Comparator.naturalOrder());
    }
}
