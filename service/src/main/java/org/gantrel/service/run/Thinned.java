package org.gantrel.service.run;

import java.time.Instant;
import java.util.List;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/**
 * Which runs are old enough to go, and their going. The latest run of a job stays, and its latest good one: whoever asks
 * when it was last done gets an answer.
 */
@Component
@Transactional
public class Thinned {

    private final ThinningStore store;

    Thinned(ThinningStore store) {
        this.store = store;
    }

    /** Runs of a job that ended before an instant and that no other run needs, the oldest first. */
    @Transactional(readOnly = true)
    public List<Long> runs(long job, Instant before, int most) {
        return store.runs(job, before, Limit.of(most));
    }

    @Transactional(readOnly = true)
    public long countRuns(long job, Instant before) {
        return store.countRuns(job, before);
    }

    /** Runs of a job that ended before an instant and still have their log, the oldest first. */
    @Transactional(readOnly = true)
    public List<Long> logs(long job, Instant before, int most) {
        return store.logs(job, before, Limit.of(most));
    }

    @Transactional(readOnly = true)
    public long countLogs(long job, Instant before) {
        return store.countLogs(job, before);
    }

    @Transactional(readOnly = true)
    public List<Long> outputs(long job, Instant before, int most) {
        return store.outputs(job, before, Limit.of(most));
    }

    public void logsGone(List<Long> runs) {
        store.logsGone(runs);
    }

    public void outputsGone(List<Long> runs) {
        store.outputsGone(runs);
    }

    /** All that a run has started, itself last. */
    @Transactional(readOnly = true)
    public List<Long> withChildren(long run, int most) {
        return store.children(run, Limit.of(most));
    }

    /** Takes runs out of the ledger with all that belongs to them. Other features are asked to let go of theirs first. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void delete(List<Long> runs) {
        store.deleteWords(runs);
        store.deleteMoments(runs);
        store.deleteItems(runs);
        store.deleteAttempts(runs);
        store.deleteStartKeys(runs);
        store.deleteRuns(runs);
    }
}
