package org.gantrel.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.Admission.Demand;

/**
 * A run that is to come, or one that is under way already.
 *
 * @param at when it is planned
 * @param stands how it stands, of one that is there already
 * @param takes how long it usually takes, from its beginning to its end; for one with parts, how long beside them
 * @param ready how long after it comes it may begin at the earliest: its gates' usual waits
 * @param parts what it leads, of a chain or a sweep; of one that is under way, what is left
 * @param bounds when it may not begin
 * @param turn by which time it stands in line
 */
public record Coming(
        String job,
        String team,
        Instant at,
        Optional<Standing> stands,
        int priority,
        Demand demand,
        boolean parent,
        Duration takes,
        Duration ready,
        List<Part> parts,
        Bounds bounds,
        Turn turn) {

    /** By which time a run stands in line with others of its priority. */
    public enum Turn {
        AS_PLANNED,
        /** From when on it could begin, as the rows of sweeps do. */
        AS_IT_COMES
    }

    /** A single run. */
    public static Coming single(String job, String team, Instant at, Demand demand, Duration takes) {
        return new Coming(
                job,
                team,
                at,
                Optional.empty(),
                5,
                demand,
                false,
                takes,
                Duration.ZERO,
                List.of(),
                Bounds.NONE,
                Turn.AS_PLANNED);
    }

    /** A part of a run that takes a while and nothing else. */
    public static Coming rest(String name, String team, Instant at, Duration takes, Bounds bounds) {
        return new Coming(
                name,
                team,
                at,
                Optional.empty(),
                5,
                Demand.NOTHING,
                true,
                takes,
                Duration.ZERO,
                List.of(),
                bounds,
                Turn.AS_PLANNED);
    }

    /** The same, as one that is there already. */
    public Coming as(Standing standing) {
        return new Coming(
                job, team, at, Optional.of(standing), priority, demand, parent, takes, ready, parts, bounds, turn);
    }

    /** Whether it is under way. */
    public boolean isUnderWay() {
        return stands.filter(Standing::begun).isPresent();
    }

    /** A run that is there already: since when it is under way, or waits. */
    public record Standing(boolean begun, Instant since) {}

    /**
     * A part of a run.
     *
     * @param after the places of the parts that it follows
     * @param needed how many of these have to be over before it comes
     * @param beside whether the run goes on without waiting for it
     */
    public record Part(Coming run, List<Integer> after, int needed, boolean beside) {

        /** One that comes when all are over that it follows, and that is waited for. */
        public static Part of(Coming run, List<Integer> after) {
            return new Part(run, after, after.size(), false);
        }
    }
}
