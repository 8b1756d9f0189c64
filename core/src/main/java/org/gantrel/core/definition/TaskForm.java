package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.job.Command;
import org.gantrel.core.job.Job;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.ExitRule;
import org.gantrel.core.yaml.Section;

/** Reads a task. */
final class TaskForm {

    private TaskForm() {}

    static Job.Task read(Section section) {
        section.knowing(
                "task", "team", "about", "parameters", "does", "time-limit", "exit-codes", "schedules", "notify");
        Parameters parameters = CommonForm.parameters(section);
        return new Job.Task(
                CommonForm.name(section, "task", "the name of the task"),
                CommonForm.team(section),
                CommonForm.about(section),
                parameters,
                command(section, parameters),
                CommonForm.duration(section, "time-limit", "P30D"),
                exitRule(section),
                CommonForm.schedules(section, parameters),
                CommonForm.mailOnFailure(section));
    }

    private static Command command(Section section, Parameters parameters) {
        Command nothing = new Command(List.of("-"), "", Map.of());
        Optional<Section> does = section.section("does");
        if (does.isEmpty()) {
            section.complain("does", "is missing: what the task does, such as does: { command: [ ./settle.sh ] }");
            return nothing;
        }
        Section form = does.get().knowing("command", "shell", "in", "environment");
        List<String> arguments = arguments(form, parameters);
        String folder = form.text("in", 1_000).orElse("");
        CommonForm.check(form, "in", folder, parameters.names());
        var environment = form.map("environment", CommonForm.LONGEST_TEXT);
        environment.forEach((name, text) -> {
            if (!name.matches("[A-Za-z_][A-Za-z0-9_]*")) {
                form.complain("environment", "'" + name + "' is no name for a variable");
            }
            CommonForm.check(form, "environment", text, parameters.names());
        });
        return arguments.isEmpty() ? nothing : new Command(arguments, folder, environment);
    }

    private static List<String> arguments(Section form, Parameters parameters) {
        if (form.has("command") == form.has("shell")) {
            form.complain(
                    "command",
                    "is missing: either a list, command: [ program, argument ], or a line for a shell, shell: ...");
            return List.of();
        }
        if (form.has("shell")) {
            String line = form.text("shell", CommonForm.LONGEST_TEXT).orElse("");
            CommonForm.check(form, "shell", line, parameters.names());
            return line.isBlank() ? List.of() : Command.shell(line);
        }
        if (!form.isList("command")) {
            form.complain(
                    "command", "a list is expected, such as [ ./settle.sh, --day, today ]; for a shell write 'shell:'");
            return List.of();
        }
        List<String> arguments = form.texts("command", CommonForm.LONGEST_TEXT);
        if (arguments.isEmpty() || arguments.get(0).isBlank()) {
            form.complain("command", "the program is missing");
            return List.of();
        }
        arguments.forEach(argument -> CommonForm.check(form, "command", argument, parameters.names()));
        return arguments;
    }

    private static ExitRule exitRule(Section section) {
        Optional<Section> form = section.section("exit-codes");
        if (form.isEmpty()) {
            return ExitRule.USUAL;
        }
        form.get().knowing("succeeded", "warned");
        Set<Integer> succeeded = form.get().has("succeeded") ? codes(form.get(), "succeeded") : Set.of(0);
        Set<Integer> warned = codes(form.get(), "warned");
        var both = new ArrayList<>(succeeded);
        both.retainAll(warned);
        if (!both.isEmpty()) {
            form.get().complain("warned", both.get(0) + " cannot mean success and a warning");
        }
        return new ExitRule(succeeded, warned);
    }

    private static Set<Integer> codes(Section form, String key) {
        var codes = new HashSet<Integer>();
        for (String text : form.texts(key, 40)) {
            if (text.matches("\\d{1,3}") && Integer.parseInt(text) <= 255) {
                codes.add(Integer.parseInt(text));
            } else {
                form.complain(key, "'" + text + "' is no exit code: 0 to 255");
            }
        }
        return codes;
    }
}
