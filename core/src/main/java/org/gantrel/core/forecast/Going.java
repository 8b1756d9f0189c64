package org.gantrel.core.forecast;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.forecast.Simulation.Stretch;
import org.gantrel.core.forecast.Simulation.Stuck;
import org.gantrel.core.forecast.Simulation.Waited;
import org.gantrel.core.run.Admission;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.Wait;

/** A run as it is played. */
final class Going {

    /** The one that waits longer first: its age counts more. */
    static final Comparator<Going> IN_TURN = Comparator.comparing((Going going) -> going.came)
            .thenComparing(going -> going.run.at())
            .thenComparing(going -> going.number);

    /** What runs that are looked at alike have in common. */
    record Like(int priority, String team, boolean parent, boolean row, Map<String, Integer> lanes) {}

    final long number;
    final Coming run;
    /** What waits for it; nothing where that goes on without it. */
    final Going parent;
    /** By place; what has not come yet is null. */
    final List<Going> parts = new ArrayList<>();

    /** From when on its waiting counts. */
    Instant came;
    /** When the latest of its rows began: the next one waits from then on. */
    private Instant rowBegan = Instant.MIN;
    /** From when on it may begin, as far as it is concerned itself. */
    Instant ready;

    Instant begins;
    Instant ends;
    Wait waitedFor;
    boolean skipped;
    private Like like;

    Going(long number, Coming run, Going parent) {
        this.number = number;
        this.run = run;
        this.parent = parent;
    }

    boolean isRow() {
        return run.turn() == Coming.Turn.AS_IT_COMES && parent != null;
    }

    /** By when it stands in line. */
    Instant lineTime() {
        return isRow() ? Admission.turnOfRow(waitsSince()) : run.at();
    }

    Instant waitsSince() {
        return isRow() && parent.rowBegan.isAfter(came) ? parent.rowBegan : came;
    }

    void begins(Instant at) {
        begins = at;
        if (isRow()) {
            parent.rowBegan = at;
        }
    }

    /** Notes what it waits for. The numbers that runs have here are nobody else's, so that others are not named by them. */
    void waitsFor(Wait wait) {
        if (wait.kind() != Wait.Kind.OVERLAP || !waitsForOthers()) {
            waitedFor = wait.unnumbered();
        }
    }

    private boolean waitsForOthers() {
        return waitedFor != null && waitedFor.kind() == Wait.Kind.OVERLAP;
    }

    void waitsForOthers(Crowd crowd) {
        if (!waitsForOthers()) {
            waitedFor = Wait.forEarlier(crowd.text());
        }
    }

    Like like() {
        if (like == null) {
            like = new Like(
                    run.priority(),
                    run.team(),
                    run.parent(),
                    isRow(),
                    run.demand().lanes());
        }
        return like;
    }

    /** The parts that have come and that it waits for. */
    Stream<Going> led() {
        return parts.stream().filter(Objects::nonNull).filter(part -> part.parent == this);
    }

    /** How many of its parts are over for it. */
    long over(List<Integer> places) {
        return places.stream().filter(place -> isOver(parts.get(place))).count();
    }

    private boolean isOver(Going part) {
        return part != null && (part.parent != this || part.isOver());
    }

    boolean isThrough() {
        return parts.stream().allMatch(this::isOver);
    }

    /** @param open when the time that is looked at is over, for what waits still */
    Optional<Waited> waited(Instant open) {
        Instant until = begins == null ? open : begins;
        return skipped || ready == null || waitedFor == null || !until.isAfter(ready)
                ? Optional.empty()
                : Optional.of(new Waited(run.job(), run.team(), ready, until, waitedFor));
    }

    Optional<Waited> within(Instant open) {
        return led().flatMap(part -> Stream.concat(part.waited(open).stream(), part.within(open).stream()))
                .max(Comparator.comparing(Waited::length));
    }

    Optional<Stuck> stuck(boolean part) {
        if (isOver()) {
            return Optional.empty();
        }
        return begins == null
                ? Optional.of(new Stuck(run.job(), part, Optional.ofNullable(waitedFor)))
                : led().flatMap(each -> each.stuck(true).stream()).findFirst();
    }

    /** Of its parts that have none themselves, the one that is under way the longest after a moment. */
    Optional<Stretch> longest(Instant after) {
        return led().flatMap(part -> part.parts.isEmpty() ? part.stretch(after).stream() : part.longest(after).stream())
                .max(Comparator.comparing(Stretch::length));
    }

    private Optional<Stretch> stretch(Instant after) {
        if (begins == null || ends == null) {
            return Optional.empty();
        }
        return Optional.of(new Stretch(run.job(), begins.isBefore(after) ? after : begins, ends))
                .filter(stretch -> stretch.until().isAfter(stretch.from()));
    }

    boolean isOver() {
        return ends != null || skipped;
    }
}
