package org.gantrel.core.definition;

import java.time.Duration;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Command;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Leftovers;
import org.gantrel.core.job.Outputs;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.OutcomeRule;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.yaml.Section;

/** Reads a task. */
final class TaskForm {

    private static final List<String> FOR_COMMANDS = List.of("exit-codes", "outcome", "leftovers");

    private static final String[] KEYS = {
        "task",
        "team",
        "about",
        "parameters",
        "does",
        "acts-as",
        "raised",
        "time-limit",
        "exit-codes",
        "outcome",
        "outputs",
        "keep-outputs",
        "leftovers",
        "keep",
        "schedules",
        "notify",
        "owner",
        "labels",
        "while-running",
        "apart-by",
        "lanes",
        "priority",
        "gates",
        "gate-patience",
        "total-limit",
        "stop-at",
        "stop-patience",
        "long-after",
        "retry",
        "gives",
        "triggers",
        "expect"
    };

    private TaskForm() {}

    static Job.Task read(Section section) {
        section.knowing(KEYS);
        String name = CommonForm.name(section, "task", "the name of the task");
        Parameters parameters = ParameterForm.read(section);
        Action action = new ActionForm(parameters).read(section);
        Outputs outputs = OutcomeForm.outputs(section, parameters);
        new SecretSpread(section, parameters).refuse(action, outputs);
        Leftovers leftovers = CommonForm.word(section, "leftovers", Leftovers.words())
                .flatMap(Leftovers::of)
                .orElse(Leftovers.END);
        Optional<Duration> timeLimit = CommonForm.duration(section, "time-limit", "P30D");
        return new Job.Task(
                name,
                CommonForm.team(section),
                CommonForm.about(section),
                parameters,
                action,
                identity(section, action),
                timeLimit,
                outcome(section, action),
                outputs,
                gives(section),
                leftovers,
                CommonForm.schedules(section, parameters),
                CommonForm.concern(section),
                CommonForm.retention(section),
                new RulesForm(section, parameters).ofTask(action, leftovers, timeLimit),
                TriggerForm.read(section, name, parameters));
    }

    private static Job.Identity identity(Section section, Action action) {
        String credential =
                section.has("acts-as") ? CommonForm.name(section, "acts-as", "the name of a credential") : "";
        boolean raised = section.yes("raised", false);
        if (raised && !(action instanceof Command)) {
            section.complain("raised", "only a command can be raised");
        }
        return new Job.Identity(credential, raised);
    }

    /** The results that it leaves: {@code gives: { total: number }}. */
    private static Map<String, ParameterType> gives(Section section) {
        var gives = new LinkedHashMap<String, ParameterType>();
        section.section("gives").ifPresent(form -> {
            for (String name : form.keys()) {
                CommonForm.valueName(form, name, name);
                String word = form.text(name, 20).orElse("");
                Optional<ParameterType> type = ParameterType.of(word).filter(GIVEN::contains);
                List<String> words = GIVEN.stream().map(ParameterType::word).toList();
                type.ifPresentOrElse(
                        found -> gives.put(name, found),
                        () -> form.complain(
                                name,
                                "'" + word + "' is no type of a result; there are " + String.join(", ", words)
                                        + Nearest.hint(word, words)));
            }
        });
        return gives;
    }

    private static final List<ParameterType> GIVEN = List.of(
            ParameterType.TEXT,
            ParameterType.NUMBER,
            ParameterType.DATE,
            ParameterType.TIME,
            ParameterType.DATE_TIME,
            ParameterType.YES_NO);

    private static OutcomeRule outcome(Section section, Action action) {
        if (!(action instanceof Command)) {
            FOR_COMMANDS.stream().filter(section::has).forEach(key -> section.complain(key, "only a command has it"));
        }
        return OutcomeForm.read(section);
    }
}
