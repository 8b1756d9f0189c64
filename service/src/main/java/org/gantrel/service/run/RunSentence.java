package org.gantrel.service.run;

import java.time.format.DateTimeFormatter;
import java.util.Locale;
import org.gantrel.core.run.ActsAs;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.text.Words;

/** Says in plain words what a run is, why it started, as whom it ran, and how it ended and why. */
public final class RunSentence {

    private static final DateTimeFormatter TIME = DateTimeFormatter.ofPattern("HH:mm 'on' EEEE d MMMM", Locale.ENGLISH);

    private RunSentence() {}

    public static String of(Run run) {
        String planned = TIME.format(run.plannedAt().atZone(run.planned().zone())) + " ("
                + run.planned().zone().getId() + ")";
        String start = "Run " + run.number() + " of " + run.jobName() + ", started " + Runs.causeWords(run)
                + (run.cause() == CauseKind.PERSON ? " at " : " for ") + planned + ", ";
        boolean began = run.startedAt().isPresent();
        String as = ActsAs.words(run.actsAs());
        String took = run.took().map(time -> " after " + Words.duration(time)).orElse("");
        return start
                + switch (run.state()) {
                    case WAITING -> "waits for " + (run.waitingFor().isEmpty() ? "its turn." : run.waitingFor() + ".");
                    case RUNNING -> "is running" + as + (!run.stop().isAsked() ? "." : " and was asked to stop.");
                    case SUCCEEDED -> "ran" + as + " and succeeded" + took + ".";
                    case WARNED -> "ran" + as + " and ended with warnings" + took + ": " + run.message() + ".";
                    case FAILED -> (began ? "ran" + as + " and failed" + took : "failed") + ": " + run.message() + ".";
                    case TIMED_OUT -> "ran" + as + " and was " + run.message() + ".";
                    case CANCELLED -> (began ? "ran" + as + " and was " : "was ") + run.message() + took + ".";
                    case SKIPPED -> "was skipped: " + run.message() + ".";
                    case MISSED -> "was missed: " + run.message() + ".";
                };
    }
}
