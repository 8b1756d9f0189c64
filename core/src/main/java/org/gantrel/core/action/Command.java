package org.gantrel.core.action;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.expression.Bindings;

/**
 * A program with its arguments. No shell reads it; one that wants a shell names it.
 *
 * @param arguments the program first; each may hold expressions
 * @param folder the working folder; empty for the run's own
 * @param environment added to the service's own plain environment
 * @param secrets credentials by the variable that holds their secret
 * @param input what the command reads
 */
public record Command(
        List<String> arguments,
        String folder,
        Map<String, String> environment,
        Map<String, String> secrets,
        Input input)
        implements Action {

    /** What stands on the standard input of a command. */
    public enum Input {
        /** Nothing. */
        NONE,
        /** The values of the parameters as one JSON object. */
        VALUES
    }

    public Command {
        arguments = List.copyOf(arguments);
        environment = Collections.unmodifiableMap(new LinkedHashMap<>(environment));
        secrets = Map.copyOf(secrets);
        if (arguments.isEmpty()) {
            throw new IllegalArgumentException("a command needs a program");
        }
    }

    /** A command that reads nothing and needs no secrets. */
    public Command(List<String> arguments, String folder, Map<String, String> environment) {
        this(arguments, folder, environment, Map.of(), Input.NONE);
    }

    /** A program with its arguments and nothing else. */
    public static Command of(String... arguments) {
        return new Command(List.of(arguments), "", Map.of());
    }

    /** A line for a shell, which is asked to stop at nothing by itself: the line decides. */
    public static List<String> shell(String line) {
        return List.of("/bin/sh", "-c", line);
    }

    @Override
    public String kind() {
        return "command";
    }

    @Override
    public Command fill(Bindings known) {
        return new Command(known.fill(arguments), known.fill(folder), known.fill(environment), secrets, input);
    }

    @Override
    public List<String> credentials() {
        return secrets.values().stream().sorted().toList();
    }
}
