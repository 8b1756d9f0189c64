package org.gantrel.client.event;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.io.PrintStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Stream;
import org.gantrel.client.KeyValues;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Refused;
import org.gantrel.client.api.Unreachable;
import org.gantrel.client.output.Printer;
import org.gantrel.core.text.LocaleBefore;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Runs a command and tells the service of it: for work that another machine does by itself. */
@Command(
        name = "beat",
        description = {
            "Runs a command of this machine, and tells the service of its start, its end, and its last lines.",
            "The job says 'does: outside'. The command runs also while the service is away; that is told with the next beat.",
            "The exit code is that of the command."
        },
        footer = {
            "",
            "Examples:",
            "  gantrel beat archive-copy -- rsync -a /srv/archive vault.example.org:",
            "  gantrel beat archive-copy -p day=2026-11-26 -- ./copy.sh",
            "  gantrel beat --tell                      tells what could not be told before, and runs nothing"
        })
public final class BeatCommand extends ServiceCommand {

    private static final JsonMapper JSON = JsonMapper.shared();
    private static final int LAST_LINES = 50;
    private static final int LONGEST_LINE = 1_000;
    private static final int MOST_KEPT = 200;
    private static final int CANNOT_RUN = 127;
    private static final Set<PosixFilePermission> OWN_FOLDER = PosixFilePermissions.fromString("rwx------");

    @Parameters(index = "0", arity = "0..1", paramLabel = "JOB", description = "The job.")
    private String job;

    @Parameters(index = "1..*", paramLabel = "COMMAND", description = "The command with its arguments, after --.")
    private List<String> command = List.of();

    @Option(names = "-p", paramLabel = "NAME=VALUE", description = "A value for the run, where none waits for it.")
    private List<String> values = List.of();

    @Option(names = "--tell", description = "Only tells what could not be told before.")
    private boolean onlyTell;

    @Override
    public Integer call() throws IOException, InterruptedException {
        if (onlyTell) {
            return tellOld() ? 0 : 1;
        }
        if (job == null || command.isEmpty()) {
            throw new Wrong("a job and a command are needed: gantrel beat JOB -- COMMAND ...");
        }
        String key = UUID.randomUUID().toString();
        Optional<Long> run = began(key);
        Instant start = Instant.now();
        Deque<String> last = new ArrayDeque<>();
        int code = run(last);
        String took = Duration.between(start, Instant.now())
                .truncatedTo(ChronoUnit.MILLIS)
                .toString();
        Map<String, Object> end = new LinkedHashMap<>();
        run.ifPresent(number -> end.put("run", number));
        end.put("exitCode", code);
        end.put(
                "message",
                (run.isEmpty() ? "began at " + start + ", when the service was away; " : "") + "took " + took);
        end.put("lines", List.copyOf(last));
        try {
            if (tell(job, key, end)) {
                tellOld();
            } else {
                keep(job, key, end);
            }
        } catch (IOException | RuntimeException e) {
            // the command has run, and its exit code is what whoever called wants to know
            Printer.say("not all could be told: " + e.getMessage());
        }
        return code;
    }

    /** Tells of the start; nothing where the service does not hear it. What it refuses is no reason not to work. */
    private Optional<Long> began(String key) {
        try {
            JsonNode answer = api().post(
                            "/api/v1/outside/" + job + "/start",
                            Map.of("values", KeyValues.of(values)),
                            Map.of("Idempotency-Key", key));
            return Optional.of(answer.path("run").asLong());
        } catch (Unreachable e) {
            Printer.say("the service is away; the command runs, and that is told later");
        } catch (Refused e) {
            Printer.say("the service does not take the start: " + e.getMessage());
        }
        return Optional.empty();
    }

    private int run(Deque<String> last) throws InterruptedException {
        try {
            var builder = new ProcessBuilder(command).redirectInput(ProcessBuilder.Redirect.INHERIT);
            LocaleBefore.in(builder.environment());
            Process process = builder.start();
            Thread errors = copy(process.getErrorStream(), System.err, last);
            Thread output = copy(process.getInputStream(), System.out, last);
            int code = process.waitFor();
            output.join();
            errors.join();
            return code;
        } catch (IOException e) {
            add(last, e.getMessage());
            Printer.say(e.getMessage());
            return CANNOT_RUN;
        }
    }

    private static Thread copy(InputStream from, PrintStream to, Deque<String> last) {
        var thread = new Thread(() -> {
            try (var reader = new BufferedReader(new InputStreamReader(from, StandardCharsets.UTF_8))) {
                for (String line = reader.readLine(); line != null; line = reader.readLine()) {
                    to.println(line);
                    add(last, line);
                }
            } catch (IOException e) {
                add(last, "what it printed could not be read: " + e.getMessage());
            }
        });
        thread.start();
        return thread;
    }

    private static void add(Deque<String> last, String line) {
        synchronized (last) {
            last.add(line.length() <= LONGEST_LINE ? line : line.substring(0, LONGEST_LINE));
            if (last.size() > LAST_LINES) {
                last.poll();
            }
        }
    }

    /** Tells of an end; says whether there is nothing more to be told. */
    private boolean tell(String of, String key, Map<String, Object> end) {
        try {
            api().post("/api/v1/outside/" + of + "/end", end, Map.of("Idempotency-Key", key));
            return true;
        } catch (Unreachable e) {
            return false;
        } catch (Refused e) {
            Printer.say("the service does not take the end: " + e.getMessage());
            return !e.isForLater();
        }
    }

    private static Path folder() {
        String state = System.getenv("XDG_STATE_HOME");
        Path base = state == null || state.isBlank()
                ? Path.of(System.getProperty("user.home"), ".local", "state")
                : Path.of(state);
        return base.resolve("gantrel").resolve("beats");
    }

    private static void keep(String of, String key, Map<String, Object> end) throws IOException {
        Path folder = folder();
        Files.createDirectories(folder.getParent());
        if (!Files.isDirectory(folder)) {
            // the last lines of a command are nobody else's
            Files.createDirectory(folder, PosixFilePermissions.asFileAttribute(OWN_FOLDER));
        }
        String name = Instant.now().toEpochMilli() + "-" + key;
        Path whole = Files.writeString(
                folder.resolve(name + ".part"), JSON.writeValueAsString(Map.of("job", of, "key", key, "end", end)));
        Files.move(whole, folder.resolve(name + ".json"), StandardCopyOption.ATOMIC_MOVE);
        Printer.say("the service is away; the end is told with the next beat, or by 'gantrel beat --tell'");
    }

    /** Tells what is kept, the oldest first; says whether all of it is told. */
    private boolean tellOld() throws IOException {
        if (!Files.isDirectory(folder())) {
            return true;
        }
        List<Path> kept;
        try (Stream<Path> files = Files.list(folder())) {
            kept = files.filter(file -> file.toString().endsWith(".json"))
                    .sorted()
                    .limit(MOST_KEPT)
                    .toList();
        }
        for (Path file : kept) {
            JsonNode old;
            try {
                old = JSON.readTree(Files.readString(file));
            } catch (NoSuchFileException e) {
                // another beat has told it meanwhile
                continue;
            } catch (JacksonException e) {
                Files.move(file, file.resolveSibling(file.getFileName() + ".unreadable"));
                Printer.say(file + " cannot be read and is put aside: " + e.getOriginalMessage());
                continue;
            }
            Map<String, Object> end = new LinkedHashMap<>();
            old.path("end").propertyStream().forEach(field -> end.put(field.getKey(), field.getValue()));
            if (!tell(old.path("job").asString(), old.path("key").asString(), end)) {
                return false;
            }
            Files.deleteIfExists(file);
        }
        return true;
    }
}
