package org.gantrel.service.work;

import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.job.Rules;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.text.Words;

/** Says in a rehearsal what a run would wait for, and how often it would be tried. */
final class RulesRehearsal {

    private RulesRehearsal() {}

    static void say(Rules rules, Bindings known, Sheet sheet) {
        if (!rules.overlap().equals(Overlap.USUAL)) {
            String apart = rules.overlap().apartBy().isEmpty()
                    ? ""
                    : ", told apart by " + Words.list(rules.overlap().apartBy());
            sheet.does("while running", rules.overlap().word() + apart);
        }
        if (!rules.lanes().isEmpty()) {
            sheet.does(
                    "lanes",
                    rules.lanes().entrySet().stream()
                            .sorted(Map.Entry.comparingByKey())
                            .map(lane -> Words.count(lane.getValue(), "place") + " in " + lane.getKey())
                            .collect(Collectors.joining(", ")));
        }
        if (rules.priority() != Rules.USUAL_PRIORITY) {
            sheet.does("priority", String.valueOf(rules.priority()));
        }
        for (Gate gate : rules.gates().all()) {
            sheet.does("gate", "waits for " + gate.fill(known).words());
        }
        // a command's own limit is said with the command; that over all tries, and a chain's, is said here
        rules.limits().total().ifPresent(total -> sheet.does("time limit over all", Words.duration(total)));
        rules.limits().stopAt().ifPresent(end -> sheet.does("stop at", end.toString()));
        if (rules.retry().tries() > 1) {
            sheet.does(
                    "tries",
                    rules.retry().tries() + ", the second "
                            + Words.duration(rules.retry().pause()) + " after the first");
        }
    }
}
