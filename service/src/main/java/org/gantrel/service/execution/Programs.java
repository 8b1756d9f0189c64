package org.gantrel.service.execution;

import java.io.IOException;
import java.io.InputStream;
import java.math.BigInteger;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.action.Command;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.Job;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.job.JobAdvice;
import org.springframework.stereotype.Component;

/** Looks whether a command's program and folder are there and may be used, without running anything. */
@Component
class Programs implements JobAdvice {

    private static final long PATIENCE_SECONDS = 5;
    private static final int LONGEST_FIRST_LINE = 256;
    private static final int LONGEST_VERSION = 2_000;
    /** A name such as python3.11 or tool-17: what stands before the version, the version, and what follows. */
    private static final Pattern VERSION = Pattern.compile("(.*?[^0-9.]|)(\\d+(?:\\.\\d+)+|(?<=-)\\d{1,3})([^0-9]*)");

    private static final Set<ParameterType> MAY_HOLD_BLANKS =
            EnumSet.of(ParameterType.TEXT, ParameterType.LIST, ParameterType.PATH, ParameterType.SECRET);

    private final Actors actors;

    Programs(Actors actors) {
        this.actors = actors;
    }

    @Override
    public List<String> warnings(Job job) {
        if (!(job instanceof Job.Task task)) {
            return List.of();
        }
        if (task.command().isEmpty()) {
            return List.of();
        }
        return Stream.concat(
                        unquoted(task, task.command().get()).stream(),
                        // what another host has is looked at when the command is rehearsed or started
                        actors.isElsewhere(task)
                                ? Stream.empty()
                                : onThisHost(task.command().get()).stream())
                .toList();
    }

    /** Values in a shell's line came by pasting once, and those that held several words were several words. */
    private static List<String> unquoted(Job.Task task, Command command) {
        return command.unquoted().stream()
                .filter(expression -> !expression.strip().startsWith("planned"))
                .filter(expression -> task.parameters().all().stream()
                        .filter(parameter -> parameter.name().equals(expression.strip()))
                        .allMatch(parameter -> MAY_HOLD_BLANKS.contains(parameter.type())))
                .map(expression -> "shell: ${" + expression
                        + "} stands outside quotes; its value is one word there, blanks"
                        + " and signs included, and never read as code: \"${" + expression + "}\" says so, and several"
                        + " words are for the arguments of 'command'")
                .toList();
    }

    private List<String> onThisHost(Command command) {
        boolean knownOnlyWhenRun = command.bringsProgram()
                || command.worksInSource()
                || Template.of(command.arguments().get(0)).hasExpressions()
                || Template.of(command.folder()).hasExpressions();
        return knownOnlyWhenRun
                ? List.of()
                : Stream.concat(
                                complaint(command).stream(),
                                versioned(command.arguments().get(0)).stream())
                        .toList();
    }

    /** What keeps a command from starting as an account; nothing where it can. */
    Optional<String> complaint(Command command, Optional<Account> account, Account service) {
        Optional<String> complaint = complaint(command);
        if (complaint.isPresent()
                || account.isEmpty()
                || service.name().equals(account.get().name())) {
            return complaint;
        }
        Optional<String> mayNot = new Accounts().commandComplaint(account.get().name());
        if (mayNot.isPresent()) {
            return mayNot;
        }
        if (!command.folder().isEmpty()
                && !succeeds(account.get().prefix(service, Map.of()), List.of("test", "-x", command.folder()))) {
            return Optional.of("the account " + account.get().name() + " may not enter the folder " + command.folder());
        }
        String program = command.arguments().get(0);
        Path path = Path.of(command.folder().isEmpty() ? "." : command.folder()).resolve(program);
        return !program.contains("/")
                        || succeeds(account.get().prefix(service, Map.of()), List.of("test", "-x", path.toString()))
                ? Optional.empty()
                : Optional.of("the account " + account.get().name() + " may not execute " + path.normalize());
    }

    /** The first lines that a program writes when it is asked for its version. */
    String version(Command command, Optional<Account> account, Account service) {
        var line = new ArrayList<String>();
        account.filter(each -> !each.name().equals(service.name()))
                .ifPresent(each -> line.addAll(each.prefix(service, Map.of())));
        line.add(command.arguments().get(0));
        line.addAll(command.shows());
        var builder = new ProcessBuilder(line)
                .directory(Path.of(command.folder().isEmpty() ? "/" : command.folder())
                        .toFile())
                .redirectErrorStream(true)
                .redirectInput(ProcessBuilder.Redirect.from(Path.of("/dev/null").toFile()));
        Map<String, String> environment = builder.environment();
        environment.clear();
        environment.putAll(Launcher.environment(account));
        environment.putAll(command.environment());
        try {
            Process process = builder.start();
            // what goes on for too long is ended, which ends the reading as well
            CompletableFuture.delayedExecutor(PATIENCE_SECONDS, TimeUnit.SECONDS)
                    .execute(process::destroyForcibly);
            String said = new String(process.getInputStream().readNBytes(LONGEST_VERSION), StandardCharsets.UTF_8);
            process.destroy();
            return said.isBlank()
                    ? "it said nothing"
                    : said.strip().lines().limit(3).collect(Collectors.joining("\n"));
        } catch (IOException e) {
            return "it could not be asked: " + e.getMessage();
        }
    }

    /** What a path says of a version that may be replaced one day; nothing where it names none. */
    static Optional<String> versioned(String program) {
        Path path = Path.of(program);
        for (int i = 0; path.isAbsolute() && i < path.getNameCount(); i++) {
            Matcher version = VERSION.matcher(path.getName(i).toString());
            if (version.matches()) {
                Path before = path.getRoot().resolve(i == 0 ? Path.of("") : path.subpath(0, i));
                String newest = filesBeside(before.resolve("any")).stream()
                        .filter(name -> name.matches(
                                Pattern.quote(version.group(1)) + "\\d+(\\.\\d+)*" + Pattern.quote(version.group(3))))
                        .max(Comparator.comparing(name -> VERSION.matcher(name).replaceFirst("$2"), Programs::older))
                        .orElse("");
                boolean isNewest =
                        newest.isEmpty() || newest.equals(path.getName(i).toString());
                return Optional.of("the path " + program + " holds a version number, " + version.group(2)
                        + (isNewest
                                ? "; an update may take it away"
                                : "; the newest there is " + before.resolve(newest)));
            }
        }
        return Optional.empty();
    }

    /** Compares versions number by number. */
    private static int older(String one, String other) {
        String[] a = one.split("\\.");
        String[] b = other.split("\\.");
        for (int i = 0; i < Math.min(a.length, b.length); i++) {
            int order = new BigInteger(a[i]).compareTo(new BigInteger(b[i]));
            if (order != 0) {
                return order;
            }
        }
        return Integer.compare(a.length, b.length);
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
        if (Files.isDirectory(path)) {
            return Optional.of(path + " is a folder, not a program");
        }
        return Files.isExecutable(path)
                ? interpreter(path)
                : Optional.of(path + " is not executable; 'chmod +x " + path + "' makes it so");
    }

    /** What keeps a script from starting: the program that its first line names, as execve(2) reads it. */
    private static Optional<String> interpreter(Path path) {
        byte[] head;
        try (InputStream stream = Files.newInputStream(path)) {
            head = stream.readNBytes(LONGEST_FIRST_LINE);
        } catch (IOException e) {
            // who may execute a file need not be able to read it
            return Optional.empty();
        }
        String first = new String(head, StandardCharsets.ISO_8859_1);
        if (!first.startsWith("#!")) {
            return first.isEmpty() ? Optional.of(path + " is empty") : Optional.empty();
        }
        String line = first.lines().findFirst().orElse("");
        boolean dos = first.indexOf('\r') == line.length() && first.startsWith("\r\n", line.length());
        String program = line.substring(2).strip().split("\\s+")[0];
        if (dos) {
            return Optional.of(path + " has line ends of DOS, so that its interpreter would be '" + program
                    + "\\r'; sed -i 's/\\r$//' " + path + " takes them away");
        }
        if (program.isEmpty() || !program.startsWith("/")) {
            return Optional.of("the first line of " + path + " names no interpreter by its full path: '" + line + "'");
        }
        if (!Files.isExecutable(Path.of(program)) || Files.isDirectory(Path.of(program))) {
            return Optional.of("the interpreter of " + path + " is not there: " + program
                    + Nearest.hint(Path.of(program).getFileName().toString(), filesBeside(Path.of(program))));
        }
        String[] words = line.substring(2).strip().split("\\s+");
        boolean env = program.endsWith("/env") && words.length > 1 && !words[1].startsWith("-");
        return env ? onPath(words[1]).map(why -> path + ": " + why) : Optional.empty();
    }

    private static Optional<String> onPath(String program) {
        String path = Optional.ofNullable(System.getenv("PATH")).orElse("");
        boolean found = Arrays.stream(path.split(":"))
                .map(folder -> Path.of(folder).resolve(program))
                .anyMatch(candidate -> Files.isRegularFile(candidate) && Files.isExecutable(candidate));
        return found
                ? Optional.empty()
                : Optional.of("there is no program '" + program + "' in the folders of PATH (" + path + ")"
                        + Nearest.hint(program, programs(path)));
    }

    private static List<String> programs(String path) {
        return Arrays.stream(path.split(":"))
                .map(folder -> Path.of(folder).resolve("any"))
                .flatMap(beside -> filesBeside(beside).stream())
                .filter(name -> name.length() > 2)
                .distinct()
                .toList();
    }

    private static List<String> filesBeside(Path path) {
        Path folder = path.getParent();
        if (folder == null || !Files.isDirectory(folder)) {
            return List.of();
        }
        try (Stream<Path> files = Files.list(folder)) {
            return files.limit(5_000).map(file -> file.getFileName().toString()).toList();
        } catch (IOException e) {
            return List.of();
        }
    }
}
