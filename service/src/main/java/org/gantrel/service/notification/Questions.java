package org.gantrel.service.notification;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.service.journal.Event;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/** Words the questions of chains' steps. */
@Component
class Questions {

    static final String ASKED = "gantrel.approval.asked";

    private final Runs runs;
    private final Texts texts;

    Questions(Runs runs, Texts texts) {
        this.runs = runs;
        this.texts = texts;
    }

    /** What a step asks, and the addresses that it names itself. */
    record Question(Texts.Said said, List<String> tells) {}

    /** Nothing where the step is no approval any more. */
    Optional<Question> of(Run run, Event event) {
        String name = String.valueOf(event.about().get("step"));
        return Optional.of(runs.jobOf(run))
                .filter(Job.Chain.class::isInstance)
                .flatMap(chain -> ((Job.Chain) chain).step(name))
                .filter(step -> step.work() instanceof Step.Approval)
                .map(step -> (Step.Approval) step.work())
                .map(approval -> new Question(
                        texts.question(
                                run,
                                name,
                                String.valueOf(event.about().get("asks")),
                                "people with the role " + approval.role().word() + " in the team " + approval.team(),
                                approval.within().map(event.at()::plus)),
                        approval.tells().stream().distinct().toList()));
    }
}
