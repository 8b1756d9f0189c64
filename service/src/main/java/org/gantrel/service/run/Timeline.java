package org.gantrel.service.run;

import jakarta.persistence.EntityManager;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import org.gantrel.core.run.CauseKind;
import org.springframework.stereotype.Component;

/**
 * What happened to runs, in order. The beginning and the end of a sweep's row are told from the run itself: written down
 * once more for each of a hundred thousand rows they would only be in the way.
 */
@Component
class Timeline {

    private static final String STARTED = "started as ";

    private final EntityManager entities;
    private final RunMomentStore moments;

    Timeline(EntityManager entities, RunMomentStore moments) {
        this.entities = entities;
        this.moments = moments;
    }

    void note(RunRecord run, Instant at, String what) {
        entities.persist(new RunMoment(run.number(), at, what));
    }

    void created(RunRecord run, Instant now) {
        if (run.cause() != CauseKind.SWEEP) {
            note(run, now, "written down: " + Runs.causeWords(run));
        }
    }

    void begun(RunRecord run, Instant now) {
        if (run.cause() != CauseKind.SWEEP) {
            note(run, now, STARTED + run.actsAs());
        }
    }

    void ended(RunRecord run, Instant now) {
        if (run.cause() != CauseKind.SWEEP) {
            note(run, run.finishedAt().orElse(now), endWords(run));
        }
    }

    List<RunMoment> of(RunRecord run) {
        List<RunMoment> written = moments.findByRunNumberOrderById(run.number());
        boolean toldAlready = written.stream().anyMatch(moment -> moment.what().startsWith(STARTED));
        if (run.cause() != CauseKind.SWEEP || toldAlready) {
            return written;
        }
        var all = new ArrayList<>(written);
        run.startedAt().ifPresent(at -> all.add(new RunMoment(run.number(), at, STARTED + run.actsAs())));
        run.finishedAt().ifPresent(at -> all.add(new RunMoment(run.number(), at, endWords(run))));
        all.sort(Comparator.comparing(RunMoment::at));
        return all;
    }

    private static String endWords(RunRecord run) {
        return run.state().word().replace('-', ' ') + ": " + run.message();
    }
}
