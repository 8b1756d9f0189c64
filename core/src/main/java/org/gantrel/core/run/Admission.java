package org.gantrel.core.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;

/**
 * Decides which waiting runs may begin now. Pure: it looks at a snapshot and names the runs; beginning them is the
 * engine's work.
 *
 * <p>Runs are admitted by the time they were planned for. A chain or a sweep takes no place, since it only leads others,
 * so that no parent can keep its own children waiting. Rows of sweeps take the places that nobody else waits for, turn
 * about between the sweeps. A run that may not begin keeps its turn and is told why.
 *
 * @param width how many tasks the whole service runs at once
 */
public record Admission(int width) {

    /**
     * A run that waits for its place.
     *
     * @param parent whether it only leads other runs
     */
    public record WaitingRun(long number, Instant plannedAt, boolean parent) {
        static final Comparator<WaitingRun> IN_ORDER =
                Comparator.comparing(WaitingRun::plannedAt).thenComparing(WaitingRun::number);
    }

    /**
     * A sweep that could begin rows.
     *
     * @param rows how many its own width leaves room for
     * @param parents whether its rows only lead other runs
     */
    public record WaitingRows(long sweep, int rows, boolean parents) {}

    /**
     * What is the case now, as the ledger has it.
     *
     * @param underway how many tasks are under way
     */
    public record Snapshot(int underway, List<WaitingRun> runs, List<WaitingRows> sweeps) {}

    /** A run that goes on waiting, and for what. */
    public record Held(long number, String by) {}

    /** How many rows a sweep may begin. */
    public record Rows(long sweep, int rows) {}

    /** What may begin, in order, and what may not. */
    public record Verdict(List<Long> begin, List<Held> held, List<Rows> rows) {
        /** Whether anything begins. */
        public boolean moves() {
            return !begin.isEmpty() || !rows.isEmpty();
        }
    }

    public Verdict decide(Snapshot now) {
        int free = Math.max(0, width - now.underway());
        var begin = new ArrayList<Long>();
        var held = new ArrayList<Held>();
        for (WaitingRun run : now.runs().stream().sorted(WaitingRun.IN_ORDER).toList()) {
            if (run.parent()) {
                begin.add(run.number());
            } else if (free > 0) {
                free--;
                begin.add(run.number());
            } else {
                held.add(new Held(run.number(), "a free place: %d of %d commands are running".formatted(width, width)));
            }
        }
        return new Verdict(begin, held, share(now.sweeps(), free));
    }

    /** Deals the free places out one by one, so that no sweep takes all of them while another waits. */
    private static List<Rows> share(List<WaitingRows> sweeps, int free) {
        int[] given = new int[sweeps.size()];
        int left = free;
        boolean more = true;
        while (more && left > 0) {
            more = false;
            for (int i = 0; i < given.length && left > 0; i++) {
                if (!sweeps.get(i).parents() && given[i] < sweeps.get(i).rows()) {
                    given[i]++;
                    left--;
                    more = true;
                }
            }
        }
        var rows = new ArrayList<Rows>();
        for (int i = 0; i < given.length; i++) {
            WaitingRows sweep = sweeps.get(i);
            int of = sweep.parents() ? sweep.rows() : given[i];
            if (of > 0) {
                rows.add(new Rows(sweep.sweep(), of));
            }
        }
        return rows;
    }
}
