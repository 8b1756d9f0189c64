package org.gantrel.service.execution;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.TimeUnit;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.gantrel.core.action.Command;
import org.gantrel.core.text.LocaleBefore;
import org.gantrel.service.beside.CharacterSet;
import org.gantrel.service.run.Run;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.util.FileSystemUtils;

/** Starts commands as processes of their own session, which neither a signal to the service nor its end touches. */
@Component
class Launcher {

    private static final Logger LOG = LoggerFactory.getLogger(Launcher.class);

    /** What a command gets of the service's own environment; the rest may hold the service's secrets. */
    private static final Set<String> PASSED_ON = CharacterSet.and("PATH", "TZ");

    /** The same where it runs as the service's own account. */
    private static final Set<String> OF_THE_ACCOUNT = Set.of("HOME", "USER", "LOGNAME", "TMPDIR");

    private static final Pattern MODE = Pattern.compile("[0-7]{3,4}");

    static final String ENVIRONMENT = "GANTREL_ENVIRONMENT";

    private static final String ENVIRONMENT_OF_OWN = "GANTREL_OWN";

    /** Takes the environment over and becomes the command. */
    private static final String ENTER = "eval \"$" + ENVIRONMENT + "\"; unset " + ENVIRONMENT
            + " SUDO_COMMAND SUDO_USER SUDO_UID SUDO_GID; exec \"$@\"";

    /** What launch.sh ends with where the start was claimed already. */
    private static final int CLAIMED = 75;

    private static final long ROOM_LASTS_NANOS = 500_000_000;

    private final Settings settings;
    private final Path script;
    private Optional<String> noRoom = Optional.empty();
    private long lookedAt = System.nanoTime() - ROOM_LASTS_NANOS - 1;

    Launcher(Settings settings) throws IOException {
        this.settings = settings;
        this.script = settings.data().resolve("launch.sh");
        try (InputStream source = Launcher.class.getResourceAsStream("/execution/launch.sh")) {
            Files.copy(source, script, StandardCopyOption.REPLACE_EXISTING);
        }
        Files.createDirectories(settings.runsFolder());
    }

    RunFolder folder(long number) {
        return RunFolder.of(settings.runsFolder(), number);
    }

    /** Why nothing can be written to a log; nothing where there is room. Looked at once for many starts in a row. */
    synchronized Optional<String> noRoom() {
        if (System.nanoTime() - lookedAt > ROOM_LASTS_NANOS) {
            noRoom = lookForRoom();
            lookedAt = System.nanoTime();
        }
        return noRoom;
    }

    private Optional<String> lookForRoom() {
        try {
            long free = Files.getFileStore(settings.runsFolder()).getUsableSpace();
            return free >= settings.limits().leastFreeSpace()
                    ? Optional.empty()
                    : Optional.of("no room for its log: %d MB free in %s, at least %d MB are wanted"
                            .formatted(
                                    free >> 20,
                                    settings.runsFolder(),
                                    settings.limits().leastFreeSpace() >> 20));
        } catch (IOException e) {
            return Optional.of("no place for its log: " + e.getMessage());
        }
    }

    /**
     * How a command is started.
     *
     * @param account whom it runs as; nothing for the service's own account
     * @param covered what must not be readable in its log
     * @param errorsApart whether its error stream is kept in a file of its own as well
     * @param input what it reads
     */
    record Manner(Optional<Account> account, List<String> covered, boolean errorsApart, String input) {
        static final Manner PLAIN = new Manner(Optional.empty(), List.of(), false, "");
    }

    /**
     * Starts a command.
     *
     * @param facts what the command is told of its run, as environment
     */
    Process launch(RunFolder folder, Command command, Map<String, String> facts, Manner manner) throws IOException {
        Files.createDirectories(folder.work());
        var own = new LinkedHashMap<>(facts);
        own.putAll(ofAccount(manner.account()));
        own.putAll(command.environment());
        var line = new ArrayList<>(
                List.of("setsid", "/bin/sh", script.toString(), folder.path().toString()));
        if (manner.account().isPresent()) {
            line.addAll(manner.account().get().prefix(Account.own(), Map.of(ENVIRONMENT, "")));
            // what the job says of its environment means something to its own account only, so it is set by a shell
            // that runs as that already
            line.addAll(List.of("/bin/sh", "-c", ENTER, "sh"));
            handOver(folder.work(), manner.account().get());
        }
        line.addAll(command.arguments());
        var builder = new ProcessBuilder(line)
                .directory(
                        command.folder().isEmpty()
                                ? folder.work().toFile()
                                : Path.of(command.folder()).toFile())
                .redirectInput(ProcessBuilder.Redirect.from(Path.of("/dev/null").toFile()))
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .redirectError(ProcessBuilder.Redirect.appendTo(folder.log().toFile()));
        Map<String, String> environment = builder.environment();
        LocaleBefore.in(environment);
        environment.keySet().retainAll(PASSED_ON);
        environment.put(manner.account().isPresent() ? ENVIRONMENT : ENVIRONMENT_OF_OWN, script(own));
        environment.put("GANTREL_MASK", Mask.lines(manner.covered()));
        environment.put("GANTREL_ERRORS", manner.errorsApart() ? "apart" : "");
        environment.put("GANTREL_INPUT", manner.input());
        CharacterSet.OWN.check(builder);
        return builder.start();
    }

    /** What a command is told of its run by its environment. */
    static Map<String, String> facts(Run run) {
        var facts = new LinkedHashMap<String, String>();
        facts.put("GANTREL_RUN", String.valueOf(run.number()));
        facts.put("GANTREL_TRY", String.valueOf(run.attempt()));
        facts.put("GANTREL_JOB", run.jobName());
        facts.put("GANTREL_PLANNED", run.plannedAt().toString());
        return facts;
    }

    private static Map<String, String> ofAccount(Optional<Account> account) {
        return account.map(Account::environment).orElseGet(() -> given(OF_THE_ACCOUNT));
    }

    private static Map<String, String> given(Collection<String> names) {
        var given = new TreeMap<>(System.getenv());
        LocaleBefore.in(given);
        given.keySet().retainAll(names);
        return given;
    }

    /** The environment that a command finds as an account, before its job and its run add to it. */
    static Map<String, String> environment(Optional<Account> account) {
        var all = new LinkedHashMap<>(given(PASSED_ON));
        all.putAll(ofAccount(account));
        return all;
    }

    /** A text for a shell that sets an environment, and the mask that files are made with. */
    private static String script(Map<String, String> environment) {
        String mask = Optional.ofNullable(System.getenv("GANTREL_UMASK"))
                .filter(text -> MODE.matcher(text).matches())
                .orElse("022");
        var script = new StringBuilder("umask " + mask + "\n");
        environment.forEach((name, value) -> script.append("export ")
                .append(name)
                .append("='")
                .append(value.replace("'", "'\\''"))
                .append("'\n"));
        return script.toString();
    }

    /** Lets an account write into a folder that lies below one which only the service's own account may enter. */
    private static void handOver(Path folder, Account account) throws IOException {
        if (Account.own().isPrivileged()) {
            Files.setOwner(
                    folder,
                    folder.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName(account.name()));
        } else {
            Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwxrwxrwx"));
        }
    }

    /** Whether an exit code says that somebody else had started the command already. */
    static boolean isClaimedByAnother(int code) {
        return code == CLAIMED;
    }

    /**
     * Sends a signal to processes, or to groups of them by their negative number.
     *
     * @param account whom they run as; nothing for the service's own account
     */
    void signal(String signal, List<Long> processes, Optional<Account> account) throws IOException {
        String all = processes.stream().map(String::valueOf).collect(Collectors.joining(" "));
        List<String> command = List.of("/bin/sh", "-c", "kill -s " + signal + " -- " + all);
        start(command);
        Account own = Account.own();
        if (account.isPresent() && !own.isPrivileged()) {
            // what runs as somebody else hears only its own account and the privileged one
            var line = new ArrayList<>(account.get().prefix(own, Map.of()));
            line.addAll(command);
            start(line);
        }
    }

    private static void start(List<String> line) throws IOException {
        new ProcessBuilder(line)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start();
    }

    /** Starts a program that does nothing, so that the first real start finds all it needs in memory. */
    void warmUp() {
        RunFolder folder = folder(0);
        try {
            launch(folder, Command.of("true"), Map.of(), Manner.PLAIN).waitFor(5, TimeUnit.SECONDS);
            FileSystemUtils.deleteRecursively(folder.path());
        } catch (IOException e) {
            LOG.debug("nothing can be started yet: {}", e.getMessage());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
