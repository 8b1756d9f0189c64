package org.gantrel.core.action;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.expression.Bindings;

/**
 * A program with its arguments. No shell reads it; one that wants a shell names it.
 *
 * @param arguments the program first; each may hold expressions
 * @param folder the working folder; empty for the run's own
 * @param environment added to the service's own plain environment
 * @param secrets credentials by the variable that holds their secret
 * @param input what the command reads
 * @param shows arguments with which the program says its version; empty where it cannot
 */
public record Command(
        List<String> arguments,
        String folder,
        Map<String, String> environment,
        Map<String, String> secrets,
        Input input,
        List<String> shows)
        implements Action {

    private static final Set<String> SHELLS = Set.of("sh", "bash", "dash", "ksh", "zsh");

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
        shows = List.copyOf(shows);
        if (arguments.isEmpty()) {
            throw new IllegalArgumentException("a command needs a program");
        }
    }

    /** A command that reads nothing and needs no secrets. */
    public Command(List<String> arguments, String folder, Map<String, String> environment) {
        this(arguments, folder, environment, Map.of(), Input.NONE, List.of());
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
        int line = shellLine();
        if (line < 0) {
            return new Command(
                    known.fill(arguments), known.fill(folder), known.fill(environment), secrets, input, shows);
        }
        ShellLine.Script script = ShellLine.of(arguments.get(line), known);
        var filled = new ArrayList<String>();
        for (int i = 0; i < arguments.size(); i++) {
            filled.add(i == line ? script.text() : known.fill(arguments.get(i)));
        }
        var variables = new LinkedHashMap<>(known.fill(environment));
        variables.putAll(script.variables());
        return new Command(filled, known.fill(folder), variables, secrets, input, shows);
    }

    /** Which of the arguments a shell reads as its program; -1 for none. Its values come to it by variables. */
    public int shellLine() {
        boolean shell = SHELLS.contains(arguments.get(0).replaceFirst(".*/", ""));
        for (int i = 1; shell && i + 1 < arguments.size() && arguments.get(i).startsWith("-"); i++) {
            if (arguments.get(i).matches("-[a-z]*c")) {
                return i + 1;
            }
        }
        return -1;
    }

    @Override
    public List<String> credentials() {
        return secrets.values().stream().sorted().toList();
    }
}
