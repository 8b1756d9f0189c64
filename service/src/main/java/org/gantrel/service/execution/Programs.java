package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.gantrel.core.action.Command;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.Job;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.job.JobAdvice;
import org.springframework.stereotype.Component;

/** Looks whether a command's program and folder are there and may be used, without running anything. */
@Component
class Programs implements JobAdvice {

    private static final long PATIENCE_SECONDS = 5;

    private final Actors actors;

    Programs(Actors actors) {
        this.actors = actors;
    }

    @Override
    public List<String> warnings(Job job) {
        if (!(job instanceof Job.Task task)) {
            return List.of();
        }
        // what another host has is looked at when the command is rehearsed or started
        if (task.command().isEmpty() || actors.isElsewhere(task)) {
            return List.of();
        }
        Command command = task.command().get();
        boolean knownOnlyWhenRun = Template.of(command.arguments().get(0)).hasExpressions()
                || Template.of(command.folder()).hasExpressions();
        return knownOnlyWhenRun ? List.of() : complaint(command).stream().toList();
    }

    /** What keeps a command from starting as an account; nothing where it can. */
    Optional<String> complaint(Command command, Optional<Account> account, Account service) {
        Optional<String> complaint = complaint(command);
        if (complaint.isPresent()
                || account.isEmpty()
                || service.name().equals(account.get().name())) {
            return complaint;
        }
        String program = command.arguments().get(0);
        Path path = Path.of(command.folder().isEmpty() ? "." : command.folder()).resolve(program);
        return !program.contains("/")
                        || succeeds(account.get().prefix(service, Map.of()), List.of("test", "-x", path.toString()))
                ? Optional.empty()
                : Optional.of("the account " + account.get().name() + " may not execute " + path.normalize());
    }

    /** Whether a harmless command ends well. */
    static boolean succeeds(List<String> prefix, List<String> command) {
        var line = new ArrayList<>(prefix);
        line.addAll(command);
        try {
            Process process = new ProcessBuilder(line)
                    .redirectErrorStream(true)
                    .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                    .start();
            return process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS) && process.exitValue() == 0;
        } catch (IOException e) {
            return false;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            return false;
        }
    }

    /** What keeps a command from starting; nothing where it can. */
    Optional<String> complaint(Command command) {
        try {
            Path folder = Path.of(command.folder().isEmpty() ? "." : command.folder());
            if (!Files.isDirectory(folder)) {
                return Optional.of("there is no folder " + folder);
            }
            String program = command.arguments().get(0);
            return program.contains("/") ? inFolder(folder, program) : onPath(program);
        } catch (InvalidPathException e) {
            return Optional.of("'" + e.getInput() + "' is no path");
        }
    }

    private static Optional<String> inFolder(Path folder, String program) {
        Path path = folder.resolve(program).normalize();
        if (!Files.exists(path)) {
            return Optional.of("there is no program " + path
                    + Nearest.hint(path.getFileName().toString(), filesBeside(path)));
        }
        return Files.isDirectory(path) || !Files.isExecutable(path)
                ? Optional.of(path + " is not executable; 'chmod +x " + path + "' makes it so")
                : Optional.empty();
    }

    private static Optional<String> onPath(String program) {
        String path = Optional.ofNullable(System.getenv("PATH")).orElse("");
        boolean found = Arrays.stream(path.split(":"))
                .map(folder -> Path.of(folder).resolve(program))
                .anyMatch(candidate -> Files.isRegularFile(candidate) && Files.isExecutable(candidate));
        return found
                ? Optional.empty()
                : Optional.of("there is no program '" + program + "' in the folders of PATH (" + path + ")");
    }

    private static List<String> filesBeside(Path path) {
        Path folder = path.getParent();
        if (folder == null || !Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder)) {
            return files.limit(500).map(file -> file.getFileName().toString()).toList();
        } catch (IOException e) {
            return List.of();
        }
    }
}
