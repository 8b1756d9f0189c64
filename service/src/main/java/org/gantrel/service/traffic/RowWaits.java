package org.gantrel.service.traffic;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.run.Admission.Held;
import org.gantrel.core.run.Admission.WaitingRows;
import org.gantrel.core.run.Wait;
import org.springframework.stereotype.Component;

/**
 * For what the next rows of sweeps under way wait. They have no runs yet that could say it, and rows come and go too fast
 * to write each wait down: it is known as of the latest decision, and only one that lasted is told for later.
 */
@Component
public class RowWaits {

    /** Shorter ones are what is between two rows. */
    private static final Duration WORTH_TELLING = Duration.ofSeconds(10);

    /**
     * For what one waits.
     *
     * @param since when the latest row began, or this wait took the place of another
     * @param ready from when on it could have begun
     */
    public record Waiting(Wait by, Instant since, Instant ready) {}

    /** A wait that is over. */
    public record Over(long sweep, Waiting waited) {}

    private volatile Map<Long, Waiting> now = Map.of();

    /** Takes in what was decided of all sweeps that could begin rows; gives the waits that ended with it and lasted. */
    public List<Over> decided(Collection<WaitingRows> wanted, Collection<Held> held, Instant at) {
        Map<Long, Waiting> before = now;
        if (before.isEmpty() && held.isEmpty()) {
            return List.of();
        }
        Map<Long, Instant> ready = wanted.stream().collect(Collectors.toMap(WaitingRows::sweep, WaitingRows::since));
        var next = new HashMap<Long, Waiting>();
        for (Held each : held) {
            Waiting known = before.get(each.number());
            boolean same = known != null && known.by().isSameAs(each.by());
            next.put(
                    each.number(),
                    new Waiting(
                            each.by(),
                            same ? known.since() : at,
                            ready.getOrDefault(each.number(), known == null ? at : known.ready())));
        }
        now = Map.copyOf(next);
        return before.entrySet().stream()
                .filter(each -> !each.getValue()
                        .since()
                        .equals(Optional.ofNullable(next.get(each.getKey()))
                                .map(Waiting::since)
                                .orElse(null)))
                .filter(each -> Duration.between(each.getValue().since(), at).compareTo(WORTH_TELLING) >= 0)
                .map(each -> new Over(each.getKey(), each.getValue()))
                .toList();
    }

    /** For what the next row of a sweep waits; nothing where it does not, or is no sweep under way. */
    public Optional<Waiting> of(long sweep) {
        return Optional.ofNullable(now.get(sweep));
    }

    /** The sweeps whose next rows wait for places in a lane. */
    List<Long> inLane(String lane) {
        return now.entrySet().stream()
                .filter(each -> each.getValue().by().isForLane(lane))
                .map(Map.Entry::getKey)
                .sorted()
                .toList();
    }
}
