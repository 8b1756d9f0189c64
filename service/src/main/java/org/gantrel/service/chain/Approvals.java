package org.gantrel.service.chain;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.access.Role;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The questions that chains ask of people. */
@Component
@Transactional(readOnly = true)
class Approvals {

    private final ChainSteps steps;
    private final Runs runs;
    private final Jobs jobs;

    Approvals(ChainSteps steps, Runs runs, Jobs jobs) {
        this.steps = steps;
        this.runs = runs;
        this.jobs = jobs;
    }

    /**
     * A question that waits for an answer.
     *
     * @param asks the question
     * @param of who may answer, in words
     * @param until when it is too late; missing where there is no such time
     * @param mayDecide whether the caller may answer
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Open(
            long run,
            String job,
            String team,
            String step,
            String asks,
            String of,
            Instant since,
            Instant until,
            boolean mayDecide) {}

    /** Whether somebody may answer: by their role in the team that is asked, and not where the starter may not. */
    boolean mayDecide(Caller caller, Step.Approval approval, Run chain) {
        Role role = caller.roleIn(approval.team());
        boolean own = approval.others() && chain.starter().equals(caller.name());
        return role != null && role.compareTo(approval.role()) >= 0 && !own;
    }

    /** Those that the caller may answer, or at least see. */
    List<Open> open(Caller caller) {
        return steps.waiting().stream()
                .flatMap(row -> open(caller, row).stream())
                .toList();
    }

    private Optional<Open> open(Caller caller, StepRecord row) {
        Optional<Run> found =
                runs.find(row.runNumber()).filter(run -> !run.state().isEnded());
        if (found.isEmpty() || !(runs.jobOf(found.get()) instanceof Job.Chain chain)) {
            return Optional.empty();
        }
        Run run = found.get();
        String team = jobs.teamOf(run.jobId());
        return chain.step(row.step())
                .filter(step -> step.work() instanceof Step.Approval)
                .map(step -> (Step.Approval) step.work())
                // who is asked sees the question, also of a chain of another team
                .filter(approval -> caller.may(Deed.SEE_RUNS, team) || mayDecide(caller, approval, run))
                .map(approval -> new Open(
                        run.number(),
                        run.jobName(),
                        team,
                        row.step(),
                        row.message().isEmpty() ? "go on?" : row.message(),
                        approval.role().word() + " of " + approval.team(),
                        row.beganAt().orElse(run.queuedAt()),
                        row.untilAt().orElse(null),
                        mayDecide(caller, approval, run)));
    }
}
