package org.gantrel.service.execution;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.job.Job;
import org.gantrel.core.text.Words;
import org.gantrel.service.run.RunValues;
import org.springframework.stereotype.Component;

/** Says what a command would be started as. */
@Component
public class CommandRehearsal {

    private final Actors actors;
    private final Programs programs;
    private final Elsewhere elsewhere;

    CommandRehearsal(Actors actors, Programs programs, Elsewhere elsewhere) {
        this.actors = actors;
        this.programs = programs;
        this.elsewhere = elsewhere;
    }

    /** What would be done, one thing each. */
    public Map<String, String> lines(Job.Task task, Bindings known) {
        Command command = task.command().orElseThrow().fill(known);
        var lines = new LinkedHashMap<String, String>();
        lines.put("host", actors.isElsewhere(task) ? actors.identity(task).replaceFirst(".*@", "") : "this one");
        for (int i = 0; i < command.arguments().size(); i++) {
            lines.put(i == 0 ? "program" : "argument " + i, command.arguments().get(i));
        }
        if (!actors.isElsewhere(task)) {
            Launcher.environment(actors.account(task)).forEach((name, value) -> lines.put("variable " + name, value));
            lines.put("variable GANTREL_...", "what the command is told of its run");
        }
        command.from()
                .ifPresent(source -> lines.put(
                        "files",
                        (source.at().equals(GitSource.USUAL) ? "" : source.at() + " of ")
                                + source.address()
                                + (source.credential().isEmpty() ? "" : " as " + source.credential())
                                + (source.otherwise() == GitSource.Otherwise.LAST
                                        ? ", or as they were last where it does not answer"
                                        : "")));
        lines.put("folder", folder(command));
        command.environment().forEach((name, value) -> lines.put("variable " + name, value));
        command.secrets()
                .forEach((name, credential) ->
                        lines.put("variable " + name, RunValues.MASK + " (from the credential " + credential + ")"));
        if (command.input() == Command.Input.VALUES) {
            lines.put("input", "the values as JSON");
        }
        lines.put("runs as", actors.identity(task));
        task.timeLimit().ifPresent(limit -> lines.put("time limit", Words.duration(limit)));
        return lines;
    }

    private static String folder(Command command) {
        if (command.worksInSource()) {
            return (command.folder().isEmpty() ? "the top" : command.folder()) + " of these files";
        }
        return command.folder().isEmpty() ? "a folder of the run's own" : command.folder();
    }

    /**
     * What the program of a command says of its version, as the account that it would run as; nothing where it is not asked for,
     * or runs elsewhere.
     */
    public Optional<String> version(Job.Task task, Command command) {
        return command.shows().isEmpty() || actors.isElsewhere(task)
                ? Optional.empty()
                : Optional.of(programs.version(command, actors.account(task), actors.own()));
    }

    /**
     * What would keep a command from starting.
     *
     * @param task what it belongs to
     * @param command every expression worked out
     * @param actor whom it acts as, opened
     */
    public Optional<String> complaint(Job.Task task, Command written, Optional<Credential> actor) {
        Command command = written.outsideSource();
        Optional<Credential> host = actor.filter(each -> each.kind() == CredentialKind.SSH);
        return host.isPresent()
                ? elsewhere.complaint(host.get(), command)
                : programs.complaint(
                        command,
                        actor.flatMap(each -> Account.named(each.fact("account")))
                                .or(() -> actors.usual(task)),
                        actors.own());
    }
}
