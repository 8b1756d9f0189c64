package org.gantrel.service.sweep;

import java.util.EnumMap;
import java.util.HashMap;
import java.util.Map;
import org.gantrel.service.sweep.SweepRow.Fate;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Counts the rows of sweeps by what became of them. All moves of a transaction are one update at its end, made of
 * differences, so that transactions side by side lose none of each other's.
 */
@Component
class Tally {

    private final SweepStore store;

    Tally(SweepStore store) {
        this.store = store;
    }

    /** Notes in the transaction under way that rows are further than they were. */
    void move(long sweep, Fate from, Fate to, int rows) {
        Map<Fate, Integer> moves = moves().computeIfAbsent(sweep, key -> new EnumMap<>(Fate.class));
        moves.merge(from, -rows, Integer::sum);
        moves.merge(to, rows, Integer::sum);
    }

    /** Makes what was noted so far part of the counts. */
    void settle() {
        Map<Long, Map<Fate, Integer>> moves = moves();
        moves.forEach((sweep, by) -> store.count(
                sweep,
                by.getOrDefault(Fate.STARTED, 0),
                by.getOrDefault(Fate.SUCCEEDED, 0),
                by.getOrDefault(Fate.WARNED, 0),
                by.getOrDefault(Fate.FAILED, 0),
                by.getOrDefault(Fate.LEFT_OUT, 0),
                by.getOrDefault(Fate.NOT_REACHED, 0)));
        moves.clear();
    }

    @SuppressWarnings("unchecked")
    private Map<Long, Map<Fate, Integer>> moves() {
        var bound = (Map<Long, Map<Fate, Integer>>) TransactionSynchronizationManager.getResource(this);
        if (bound != null) {
            return bound;
        }
        var fresh = new HashMap<Long, Map<Fate, Integer>>();
        TransactionSynchronizationManager.bindResource(this, fresh);
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void beforeCommit(boolean readOnly) {
                settle();
            }

            @Override
            public void afterCompletion(int status) {
                TransactionSynchronizationManager.unbindResourceIfPossible(Tally.this);
            }
        });
        return fresh;
    }
}
