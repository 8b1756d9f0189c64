package org.gantrel.core.action;

import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.gantrel.core.expression.Bindings;

/**
 * A program with its arguments. No shell reads it; one that wants a shell names it.
 *
 * @param arguments the program first; each may hold expressions
 * @param folder the working folder; empty for the run's own, or for the top of what is taken from a repository, below which a
 *     path that is not full lies
 * @param environment added to the service's own plain environment
 * @param secrets credentials by the variable that holds their secret
 * @param input what the command reads
 * @param shows arguments with which the program says its version; empty where it cannot
 * @param from the repository that its files are taken from
 */
public record Command(
        List<String> arguments,
        String folder,
        Map<String, String> environment,
        Map<String, String> secrets,
        Input input,
        List<String> shows,
        Optional<GitSource> from)
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
        this(arguments, folder, environment, Map.of(), Input.NONE, List.of(), Optional.empty());
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
            return filled(known.fill(arguments), known.fill(environment), known);
        }
        ShellLine.Script script = ShellLine.of(arguments.get(line), known);
        var filled = new ArrayList<String>();
        for (int i = 0; i < arguments.size(); i++) {
            filled.add(i == line ? script.text() : known.fill(arguments.get(i)));
        }
        var variables = new LinkedHashMap<>(known.fill(environment));
        variables.putAll(script.variables());
        return filled(filled, variables, known);
    }

    private Command filled(List<String> line, Map<String, String> variables, Bindings known) {
        return new Command(
                line, known.fill(folder), variables, secrets, input, shows, from.map(source -> source.fill(known)));
    }

    /** Whether its program is one of the files that are taken from a repository. */
    public boolean bringsProgram() {
        String program = arguments.get(0);
        return from.isPresent() && program.contains("/") && !program.startsWith("/");
    }

    /** Whether it works among the files that are taken from a repository. */
    public boolean worksInSource() {
        return from.isPresent() && !folder.startsWith("/");
    }

    /** The path of its program from the top of what is taken from a repository, where that brings it. */
    public String broughtProgram() {
        String program = arguments.get(0).replaceFirst("^(\\./)+", "");
        return worksInSource() && !folder.isEmpty() ? folder + "/" + program : program;
    }

    /** What of it can be looked at without the files of the repository. */
    public Command outsideSource() {
        var line = new ArrayList<>(arguments);
        if (bringsProgram()) {
            line.set(0, "sh");
        }
        return from.isEmpty()
                ? this
                : new Command(
                        line, worksInSource() ? "" : folder, environment, secrets, input, shows, Optional.empty());
    }

    /**
     * The same where the files of the repository are in a folder.
     *
     * @param source that folder, as a full path
     */
    public Command in(String source) {
        if (from.isEmpty()) {
            return this;
        }
        var line = new ArrayList<>(arguments);
        if (bringsProgram() && !worksInSource()) {
            line.set(0, source + "/" + broughtProgram());
        }
        String at = !worksInSource() ? folder : folder.isEmpty() ? source : source + "/" + folder;
        return new Command(line, at, environment, secrets, input, shows, Optional.empty());
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

    /** The expressions in a shell's line that stand outside quotes; each is one word there, whatever its value holds. */
    public List<String> unquoted() {
        return shellLine() < 0 ? List.of() : ShellLine.unquoted(arguments.get(shellLine()));
    }

    @Override
    public List<String> credentials() {
        return Stream.concat(
                        secrets.values().stream().sorted(),
                        from.map(GitSource::credential).stream().filter(name -> !name.isEmpty()))
                .distinct()
                .toList();
    }
}
