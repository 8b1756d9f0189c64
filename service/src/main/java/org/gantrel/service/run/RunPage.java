package org.gantrel.service.run;

import com.fasterxml.jackson.annotation.JsonInclude;
import com.fasterxml.jackson.annotation.JsonUnwrapped;
import java.time.Duration;
import java.time.Instant;
import java.util.List;

/**
 * A run with all that belongs to it.
 *
 * @param sentence what it is, why it started, as whom, how it ended and why
 * @param zone the zone in which its planned time is meant
 * @param newerRevision the job's revision by now, where it was changed since and the run, which is not over, keeps its own
 * @param usual how long a good run of the job usually takes
 * @param stopping whether it was asked to stop and has not ended yet
 * @param attempts its tries that are over, where there was more than one
 * @param progress how far it says it is; missing where it says nothing
 * @param steps the steps of a chain with what became of each
 * @param chain how a chain goes
 * @param repeats the runs that repeat this one
 * @param logBytes how long its log is by now
 * @param items how many named results it has
 * @param mayDo what the caller may do with it
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
record RunPage(
        @JsonUnwrapped RunView run,
        String sentence,
        String zone,
        Integer newerRevision,
        Duration usual,
        boolean stopping,
        List<Moment> timeline,
        List<AttemptRecord.View> attempts,
        RunProgress.Said progress,
        List<ChainSight.StepState> steps,
        Course chain,
        List<Long> repeats,
        long logBytes,
        long items,
        long failedItems,
        List<String> mayDo) {

    /** One line of the timeline. */
    record Moment(Instant at, String what) {}

    /**
     * How a chain's run goes.
     *
     * @param round how many times it was gone on with, from 1
     * @param critical the steps that its length came from
     * @param held who holds it; missing where nobody does
     * @param interventions what people did to it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Course(int round, List<String> critical, ChainSight.Held held, List<ChainSight.Intervention> interventions) {
        static Course of(ChainSight.Seen seen) {
            return new Course(seen.round(), seen.critical(), seen.held(), seen.interventions());
        }
    }
}
