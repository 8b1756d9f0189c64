package org.gantrel.acceptance;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;

/** Runs the programs of bin/ as a person would. */
final class Shell {

    static final Path ROOT = Path.of("..").toAbsolutePath().normalize();

    /** What a program left: its exit code, what it printed as data, what it said. */
    record Result(int code, String out, String err) {
        Result expect(int wanted) {
            if (code != wanted) {
                throw new AssertionError("exit code " + code + " instead of " + wanted + "\n" + out + "\n" + err);
            }
            return this;
        }
    }

    private Shell() {}

    static ProcessBuilder program(Map<String, String> environment, String... command) {
        var line = new ArrayList<>(List.of(command));
        line.set(0, ROOT.resolve("bin").resolve(command[0]).toString());
        var builder = new ProcessBuilder(line);
        builder.environment().keySet().removeIf(name -> name.startsWith("GANTREL_"));
        builder.environment().putAll(environment);
        return builder;
    }

    static Result run(Map<String, String> environment, String input, String... command) {
        try {
            Path folder = Files.createTempDirectory("shell");
            Path out = folder.resolve("out");
            Path err = folder.resolve("err");
            Path in = Files.writeString(folder.resolve("in"), input);
            Process process = program(environment, command)
                    .redirectInput(in.toFile())
                    .redirectOutput(out.toFile())
                    .redirectError(err.toFile())
                    .start();
            if (!process.waitFor(Await.PATIENCE.toSeconds(), TimeUnit.SECONDS)) {
                process.destroyForcibly();
                throw new AssertionError("did not end: " + List.of(command) + "\n" + Files.readString(err));
            }
            var result = new Result(
                    process.exitValue(),
                    Files.readString(out, StandardCharsets.UTF_8),
                    Files.readString(err, StandardCharsets.UTF_8));
            for (Path each : List.of(in, out, err, folder)) {
                Files.delete(each);
            }
            return result;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new AssertionError("interrupted", e);
        }
    }
}
