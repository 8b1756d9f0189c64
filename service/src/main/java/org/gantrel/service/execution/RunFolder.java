package org.gantrel.service.execution;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.run.Progress;
import org.gantrel.core.text.Glob;
import org.springframework.util.FileSystemUtils;

/**
 * What a run leaves on disk: {@code log}, the output of the command; {@code claim}, made once before the command starts;
 * {@code process}, its process number and start mark; {@code exit}, its exit code; {@code log.gap}, what was left out of the log;
 * {@code outputs}, the files that are kept.
 */
public record RunFolder(Path path) {

    /** The end of a command: its exit code and when it ended. */
    public record Exit(int code, Instant at) {}

    /** The folder of a run below the folder of all runs. */
    public static RunFolder of(Path root, long number) {
        return new RunFolder(root.resolve(String.valueOf(number / 1000)).resolve(String.valueOf(number)));
    }

    /** The most bytes of results that are taken. */
    public static final int LARGEST_RESULT = 100_000;

    /** The output of the command while it grows; packed later, so that it is read through {@link #logFile}. */
    public Path log() {
        return path.resolve("log");
    }

    public LogFile logFile() {
        return new LogFile(log());
    }

    /** What the command wrote to its error stream, where that is kept apart. */
    public Path errors() {
        return path.resolve("errors");
    }

    /** What a command left as its results, as it stands in this folder. */
    public Path result() {
        return path.resolve("result.json");
    }

    /** What is kept of that which the run left behind. */
    public Path outputs() {
        return path.resolve("outputs");
    }

    /**
     * A file among the outputs, by its name or by a pattern that it alone fits.
     *
     * @throws IOException where a pattern fits several
     */
    public Optional<Path> output(String name) throws IOException {
        Path file = outputs().resolve(name).normalize();
        if (!file.startsWith(outputs()) || file.equals(outputs())) {
            return Optional.empty();
        }
        if (Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
            return Optional.of(file);
        }
        if (!name.matches(".*[*?\\[{].*") || !Files.isDirectory(outputs())) {
            return Optional.empty();
        }
        try (Stream<Path> files = Files.walk(outputs())) {
            Glob glob = Glob.of(name);
            List<Path> fitting = files.filter(each -> Files.isRegularFile(each, LinkOption.NOFOLLOW_LINKS)
                            && glob.fits(outputs().relativize(each).toString()))
                    .limit(2)
                    .toList();
            if (fitting.size() > 1) {
                throw new IOException(
                        "several outputs fit " + name + ", such as " + outputs().relativize(fitting.get(0)) + " and "
                                + outputs().relativize(fitting.get(1)));
            }
            return fitting.stream().findFirst();
        } catch (UncheckedIOException e) {
            // they are let go meanwhile
            throw e.getCause();
        } catch (IllegalArgumentException e) {
            return Optional.empty();
        }
    }

    public Path work() {
        return path.resolve("work");
    }

    /** The folder of an earlier try of the run whose folder this is. */
    public RunFolder ofTry(int attempt) {
        return new RunFolder(path.resolveSibling(path.getFileName() + "-try-" + attempt));
    }

    /**
     * Puts what the try before left aside, so that a try begins with nothing of it. Done once however often it is asked:
     * one step, which has happened or not.
     *
     * @param attempt the try that is to begin
     */
    public void begin(int attempt) throws IOException {
        if (attempt > 1
                && Files.exists(path)
                && !Files.exists(ofTry(attempt - 1).path())) {
            Files.move(path, ofTry(attempt - 1).path(), StandardCopyOption.ATOMIC_MOVE);
        }
    }

    private List<RunFolder> earlier() {
        var found = new ArrayList<RunFolder>();
        for (int attempt = 1; Files.exists(ofTry(attempt).path()); attempt++) {
            found.add(ofTry(attempt));
        }
        return found;
    }

    /** Deletes all that is here, and what earlier tries left. */
    public void delete() throws IOException {
        // the latest goes first, so that those which are left are found again
        List<RunFolder> tries = earlier();
        for (int i = tries.size() - 1; i >= 0; i--) {
            FileSystemUtils.deleteRecursively(tries.get(i).path());
        }
        FileSystemUtils.deleteRecursively(path);
    }

    public void deleteOutputs() throws IOException {
        for (RunFolder each : earlier()) {
            FileSystemUtils.deleteRecursively(each.outputs());
        }
        FileSystemUtils.deleteRecursively(outputs());
    }

    /** Deletes what was said, and what is left in the working folder. */
    public void deleteLog() throws IOException {
        for (RunFolder each : earlier()) {
            each.deleteLog();
        }
        logFile().delete();
        new LogFile(errors()).delete();
        FileSystemUtils.deleteRecursively(work());
    }

    boolean isClaimed() {
        return Files.exists(path.resolve("claim"));
    }

    /** The shell around the command, which claimed the start; nothing where claims did not say so yet. */
    Optional<ProcessMark> claim() {
        return read("claim").flatMap(ProcessMark::parse);
    }

    /** Whether a start was claimed by a process. */
    boolean isMine(long pid) {
        return claim().filter(mark -> mark.pid() == pid).isPresent();
    }

    /** The process that the command was started as; nothing before it has said so. */
    Optional<ProcessMark> process() {
        return read("process").flatMap(ProcessMark::parse);
    }

    Optional<Exit> exit() throws IOException {
        Optional<String> text = read("exit").map(String::strip).filter(code -> code.matches("\\d{1,3}"));
        if (text.isEmpty()) {
            return Optional.empty();
        }
        Instant at = Files.getLastModifiedTime(path.resolve("exit")).toInstant();
        return Optional.of(new Exit(Integer.parseInt(text.get()), at));
    }

    /** The last lines of the log, as far as they stand in its last few thousand bytes. */
    public List<String> lastLines(int most) {
        try {
            LogFile log = logFile();
            long from = Math.max(0, log.size() - 8_000);
            String text = new String(log.read(from, 8_000), StandardCharsets.UTF_8);
            List<String> lines = Progress.without(text).lines().toList();
            List<String> whole = from > 0 && lines.size() > 1 ? lines.subList(1, lines.size()) : lines;
            return whole.subList(Math.max(0, whole.size() - most), whole.size());
        } catch (IOException e) {
            return List.of();
        }
    }

    private Optional<String> read(String name) {
        try {
            return Optional.of(Files.readString(path.resolve(name)));
        } catch (IOException e) {
            return Optional.empty();
        }
    }
}
