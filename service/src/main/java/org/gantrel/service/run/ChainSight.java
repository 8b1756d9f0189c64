package org.gantrel.service.run;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.gantrel.core.run.Wait;
import org.gantrel.service.team.Caller;

/** What can be seen of the run of a chain; those who lead chains know. */
public interface ChainSight {

    /** The steps of a chain's run as somebody may see them, and what people did to it. */
    Seen of(Caller caller, Run chain);

    /**
     * A chain's run.
     *
     * @param round how many times it was gone on with, from 1
     * @param critical the steps that its length came from, the first one first
     * @param held who holds it; missing where nobody does
     * @param interventions what people did to it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Seen(List<StepState> steps, int round, List<String> critical, Held held, List<Intervention> interventions) {
        public static final Seen NOTHING = new Seen(List.of(), 1, List.of(), null, List.of());
    }

    /** @param why what the one said who holds it */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Held(String person, String why, Instant since) {

        /** What its steps wait for meanwhile. */
        public Wait asWait() {
            return new Wait(
                    Wait.Kind.HOLD,
                    "",
                    "the end of a hold of the chain, held by " + person + (why.isEmpty() ? "" : ": " + why));
        }
    }

    /**
     * Something that somebody did to a chain's run.
     *
     * @param kind {@code went-on}, {@code skipped}, {@code approved}, {@code refused}, {@code held}, {@code let-go}
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Intervention(int round, String kind, String step, String person, Instant at, String note) {}

    /** What leads to a step. @param when a condition that has to hold beside */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record LinkView(String after, String on, String when) {}

    /**
     * A step of a chain's run.
     *
     * @param kind {@code job}, {@code sweep}, {@code pause}, {@code approval} or {@code meeting}
     * @param links what leads to it
     * @param linksInWords the same for people
     * @param when a condition that has to hold beside
     * @param does what it does, for people
     * @param state a run's state, or {@code pending} before its time and {@code out-of-reach} where it does not run
     * @param message why it does not run, how it ended, or what it waits for
     * @param turn how often its job ran in this round
     * @param run its latest run, where the caller may see that
     * @param runs its runs of this round and of those before, the latest last, where there are several
     * @param waitedFor the step upon whose end it began
     * @param usual how long its job usually takes
     * @param mayDecide whether it asks the caller
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record StepState(
            String step,
            String kind,
            String job,
            String over,
            List<String> after,
            String on,
            List<LinkView> links,
            String linksInWords,
            String when,
            String does,
            boolean last,
            boolean matters,
            boolean goesOn,
            String state,
            String message,
            Instant from,
            Instant until,
            Instant limit,
            int turn,
            int round,
            String person,
            RunView run,
            List<Long> runs,
            String waitedFor,
            Duration usual,
            boolean mayDecide) {}
}
