package org.gantrel.core.job;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.expression.Template;

/**
 * A program with its arguments. No shell reads it; one that wants a shell names it.
 *
 * @param arguments the program first; each may hold expressions
 * @param folder the working folder; empty for the service's own
 * @param environment added to the service's own plain environment
 */
public record Command(List<String> arguments, String folder, Map<String, String> environment) {

    public Command {
        arguments = List.copyOf(arguments);
        environment = Collections.unmodifiableMap(new LinkedHashMap<>(environment));
        if (arguments.isEmpty()) {
            throw new IllegalArgumentException("a command needs a program");
        }
    }

    /** A line for a shell, which is asked to stop at nothing by itself: the line decides. */
    public static List<String> shell(String line) {
        return List.of("/bin/sh", "-c", line);
    }

    /** The same command with every expression worked out. */
    public Command fill(Map<String, String> values, PlannedTime planned) {
        var filledEnvironment = new LinkedHashMap<String, String>();
        environment.forEach(
                (name, text) -> filledEnvironment.put(name, Template.of(text).fill(values, planned)));
        return new Command(
                arguments.stream()
                        .map(text -> Template.of(text).fill(values, planned))
                        .toList(),
                Template.of(folder).fill(values, planned),
                filledEnvironment);
    }
}
