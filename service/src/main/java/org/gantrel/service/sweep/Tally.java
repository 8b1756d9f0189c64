package org.gantrel.service.sweep;

import jakarta.persistence.EntityManager;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.Map;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.sweep.Sums;
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
    private final EntityManager entities;

    Tally(SweepStore store, EntityManager entities) {
        this.store = store;
        this.entities = entities;
    }

    /** What is noted of a sweep in the transaction under way. */
    private static final class Noted {
        private final Map<Fate, Integer> moves = new EnumMap<>(Fate.class);
        private Map<String, String> sums = Map.of();
    }

    /** Notes in the transaction under way that rows are further than they were. */
    void move(long sweep, Fate from, Fate to, int rows) {
        Map<Fate, Integer> moves = noted(sweep).moves;
        moves.merge(from, -rows, Integer::sum);
        moves.merge(to, rows, Integer::sum);
    }

    /** Notes in the transaction under way what a row gave. */
    void give(long sweep, Map<String, String> given, Map<String, ParameterType> declared) {
        Noted noted = noted(sweep);
        noted.sums = Sums.with(noted.sums, given, declared);
    }

    /** Makes what was noted so far part of the counts. */
    void settle() {
        Map<Long, Noted> noted = noted();
        noted.forEach((sweep, each) -> {
            Map<Fate, Integer> by = each.moves;
            store.count(
                    sweep,
                    by.getOrDefault(Fate.STARTED, 0),
                    by.getOrDefault(Fate.SUCCEEDED, 0),
                    by.getOrDefault(Fate.WARNED, 0),
                    by.getOrDefault(Fate.FAILED, 0),
                    by.getOrDefault(Fate.LEFT_OUT, 0),
                    by.getOrDefault(Fate.NOT_REACHED, 0));
            if (!each.sums.isEmpty()) {
                SweepRecord record = entities.find(SweepRecord.class, sweep);
                entities.refresh(record);
                store.give(sweep, Sums.together(record.sums(), each.sums));
            }
        });
        noted.clear();
    }

    private Noted noted(long sweep) {
        return noted().computeIfAbsent(sweep, key -> new Noted());
    }

    @SuppressWarnings("unchecked")
    private Map<Long, Noted> noted() {
        var bound = (Map<Long, Noted>) TransactionSynchronizationManager.getResource(this);
        if (bound != null) {
            return bound;
        }
        var fresh = new HashMap<Long, Noted>();
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
