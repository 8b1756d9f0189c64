package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;

/**
 * What a run leaves on disk: {@code log}, the output of the command; {@code claim}, made once before the command starts;
 * {@code process}, its process number and start mark; {@code exit}, its exit code;
 * {@code outputs}, the files that are kept.
 */
public record RunFolder(Path path) {

    /** The end of a command: its exit code and when it ended. */
    public record Exit(int code, Instant at) {}

    /** The folder of a run below the folder of all runs. */
    public static RunFolder of(Path root, long number) {
        return new RunFolder(root.resolve(String.valueOf(number / 1000)).resolve(String.valueOf(number)));
    }

    public Path log() {
        return path.resolve("log");
    }

    /** What the command wrote to its error stream, where that is kept apart. */
    public Path errors() {
        return path.resolve("errors");
    }

    /** What is kept of that which the run left behind. */
    public Path outputs() {
        return path.resolve("outputs");
    }

    public Path work() {
        return path.resolve("work");
    }

    boolean isClaimed() {
        return Files.exists(path.resolve("claim"));
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
        try (var channel = Files.newByteChannel(log())) {
            long from = Math.max(0, channel.size() - 8_000);
            channel.position(from);
            var buffer = ByteBuffer.allocate(8_000);
            while (buffer.hasRemaining() && channel.read(buffer) >= 0) {
                continue;
            }
            String text = new String(buffer.array(), 0, buffer.position(), StandardCharsets.UTF_8);
            List<String> lines = text.lines().toList();
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
