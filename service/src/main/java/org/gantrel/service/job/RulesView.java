package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.util.List;
import java.util.Map;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Rules;
import org.gantrel.core.run.Limits;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.Retry;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.SafePattern;

/**
 * How runs of a job behave with nobody watching; what is as usual is left out.
 *
 * @param whileRunning {@code wait}, {@code skip}, {@code replace}, or how many may go side by side
 * @param apartBy the parameters by whose values runs are kept apart
 * @param lanes the places that a run takes, by lane
 * @param gates what has to hold before a run starts, in words
 * @param totalLimit how long all tries may take together
 * @param stopAt the local time at which its window ends
 * @param stopPatience how long it has to end by itself
 * @param longAfter from when on a run is unusually long, where the definition says so
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
record RulesView(
        String whileRunning,
        List<String> apartBy,
        Map<String, Integer> lanes,
        Integer priority,
        GatesView gates,
        Duration totalLimit,
        String stopAt,
        Duration stopPatience,
        Duration longAfter,
        RetryView retry) {

    private static final RulesView NOTHING = new RulesView(null, null, null, null, null, null, null, null, null, null);

    /** @param then what follows when they do not open in time: {@code skip} or {@code fail} */
    record GatesView(List<String> all, Duration lookEvery, Duration patience, String then) {}

    /**
     * @param tries how many there are in all
     * @param pause how long after the end of the first the second comes
     * @param after the ends after which it is tried again
     * @param exitCodes the exit codes after which it is; empty for any
     * @param messages what the end's message has to hold one of; empty for any
     */
    record RetryView(
            int tries,
            Duration pause,
            double growth,
            Duration longest,
            List<String> after,
            List<Integer> exitCodes,
            List<String> messages) {}

    /** Those of a job; nothing where all is as usual. */
    static RulesView of(Job job) {
        Rules rules = job.rules();
        Limits limits = rules.limits();
        Overlap overlap = rules.overlap();
        boolean chain = job instanceof Job.Chain;
        var view = new RulesView(
                overlap.word().equals(Overlap.USUAL.word()) ? null : overlap.word(),
                overlap.apartBy().isEmpty() ? null : overlap.apartBy(),
                rules.lanes().isEmpty() ? null : rules.lanes(),
                rules.priority() == Rules.USUAL_PRIORITY ? null : rules.priority(),
                rules.gates().isEmpty() ? null : gates(rules.gates()),
                // a chain is tried once, so that this is its time limit
                chain ? null : limits.total().orElse(null),
                limits.stopAt().map(Object::toString).orElse(null),
                limits.patience().orElse(null),
                limits.longAfter().orElse(null),
                rules.retry().tries() < 2 ? null : retry(rules.retry()));
        return view.equals(NOTHING) ? null : view;
    }

    private static GatesView gates(Gates gates) {
        return new GatesView(
                gates.all().stream().map(Gate::words).toList(),
                gates.lookEvery(),
                gates.patience(),
                gates.skips() ? "skip" : "fail");
    }

    private static RetryView retry(Retry retry) {
        return new RetryView(
                retry.tries(),
                retry.pause(),
                retry.growth(),
                retry.longest(),
                retry.after().stream().map(RunState::word).sorted().toList(),
                retry.codes().stream().sorted().toList(),
                retry.messages().stream().map(SafePattern::pattern).toList());
    }
}
