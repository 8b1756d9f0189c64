package org.gantrel.service.forecast;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.forecast.Bounds;
import org.gantrel.core.job.Job;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.run.Run;

/** When runs may not begin: what holds keep, by the part that a run plays, and the window that it is planned in. */
record HeldBounds(List<Hold> all, Instant now) {

    /** Those of a run that is there already. */
    Bounds of(Run run, JobEntry entry, Job job) {
        Optional<Instant> window = run.windowEnd(job.rules().limits(), now);
        boolean kept = run.isRow() || run.isParent() && run.waitsToGoOn();
        Bounds own = of(entry, job, run.parent().isPresent() ? Holds.ofParts(all) : all, window);
        return kept ? own.keeping() : own;
    }

    /** Those of a run that no other starts. */
    Bounds alone(JobEntry entry, Job job, PlannedTime planned) {
        return of(entry, job, all, windowEnd(job, planned));
    }

    /** Those of a step of a chain. */
    Bounds ofPart(JobEntry entry, Job job, PlannedTime planned) {
        return of(entry, job, Holds.ofParts(all), windowEnd(job, planned));
    }

    /** Those of a row of a sweep, which is kept and never skipped. */
    Bounds ofRow(JobEntry entry, Job job, PlannedTime planned) {
        return ofPart(entry, job, planned).keeping();
    }

    /** Those of a run under way. */
    Bounds window(Run run, Job job) {
        return new Bounds(List.of(), Optional.empty(), run.windowEnd(job.rules().limits(), now));
    }

    private static Bounds of(JobEntry entry, Job job, List<Hold> holds, Optional<Instant> window) {
        List<Bounds.Off> off = holds.stream()
                .filter(hold -> hold.concerns(
                        entry.name(), entry.teamId(), job.rules().lanes().keySet()))
                .map(hold -> new Bounds.Off(hold.from(), hold.until(), hold.skips(), hold.asWait()))
                .toList();
        return new Bounds(off, Optional.empty(), window);
    }

    private static Optional<Instant> windowEnd(Job job, PlannedTime planned) {
        return job.rules().limits().windowEnd(planned).map(end -> end.toInstant());
    }
}
