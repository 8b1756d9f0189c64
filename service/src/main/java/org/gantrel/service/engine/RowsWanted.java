package org.gantrel.service.engine;

import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.run.Admission.Held;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.Wait;

/** What sweeps could begin, as of when each was looked at. For the engine's thread alone. */
final class RowsWanted {

    /**
     * A sweep whose next rows are all of values that other runs have now.
     *
     * @param since from when on it could have begun one
     */
    private record Apart(Optional<Wait> by, Instant since) {}

    private final Map<Long, WaitingRows> wanted = new HashMap<>();
    private final Map<Long, Apart> apart = new HashMap<>();

    /** Takes in that a sweep could begin rows; it has been waiting since it could begin the first of them. */
    void wants(WaitingRows rows) {
        long sweep = rows.sweep();
        WaitingRows waiting =
                apart.containsKey(sweep) ? rows.since(apart.get(sweep).since()) : rows;
        wanted.merge(sweep, waiting, (before, later) -> later.since(before.since()));
    }

    boolean isWanted(long sweep) {
        return wanted.containsKey(sweep);
    }

    void wantsNothing(long sweep) {
        wanted.remove(sweep);
        apart.remove(sweep);
    }

    /** Takes in what a sweep has begun of what it was let. */
    void begun(long sweep, SweepRuns.Begun begun) {
        WaitingRows let = wanted.remove(sweep);
        apart.remove(sweep);
        if (begun.isNothing()) {
            apart.put(sweep, new Apart(begun.apart(), let.since()));
        }
    }

    Collection<WaitingRows> now() {
        return wanted.values();
    }

    /** The sweeps that can go on only when some other run has ended. */
    Set<Long> apart() {
        return Set.copyOf(apart.keySet());
    }

    /** For what those wait. */
    List<Held> heldApart() {
        return apart.entrySet().stream()
                .flatMap(each -> each.getValue().by().map(by -> new Held(each.getKey(), by)).stream())
                .toList();
    }
}
