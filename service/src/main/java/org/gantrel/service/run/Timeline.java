package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.gantrel.core.run.ActsAs;
import org.springframework.stereotype.Component;

/**
 * What happened to runs, in order. The beginning and the end of a sweep's row are told from the run itself: written down
 * once more for each of a hundred thousand rows they would only be in the way.
 */
@Component
class Timeline {

    private static final String STARTED = "started";

    private final EntityManager entities;
    private final RunMomentStore moments;

    Timeline(EntityManager entities, RunMomentStore moments) {
        this.entities = entities;
        this.moments = moments;
    }

    void note(long run, Instant at, String what) {
        entities.persist(new RunMoment(run, at, what));
    }

    /** Notes what is not noted yet; whether it was not. */
    boolean noteOnce(long run, Instant at, String what) {
        boolean fresh = !moments.existsByRunNumberAndWhat(run, what);
        if (fresh) {
            note(run, at, what);
        }
        return fresh;
    }

    List<RunMoment> of(Run run) {
        List<RunMoment> written = moments.findByRunNumberOrderById(run.number());
        boolean toldAlready = written.stream().anyMatch(moment -> moment.what().startsWith(STARTED));
        if (!run.isRow() || toldAlready) {
            return written;
        }
        var all = new ArrayList<>(written);
        run.startedAt().ifPresent(at -> all.add(new RunMoment(run.number(), at, STARTED + ActsAs.words(run.actsAs()))));
        run.finishedAt()
                .ifPresent(at -> all.add(
                        new RunMoment(run.number(), at, run.state().word().replace('-', ' ') + ": " + run.message())));
        all.sort(Comparator.comparing(RunMoment::at));
        return all;
    }
}
