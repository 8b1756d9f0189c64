package org.gantrel.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import java.util.Locale;

/**
 * Measures what is promised of speed and memory, each beside a baseline taken in the same run, since machines differ
 * and are noisy. Prints a line of Markdown for each; {@code bin/bench} runs it.
 */
public final class Bench {

    private Bench() {}

    /**
     * Runs all measurements, or those named.
     *
     * @param arguments names of measurements
     */
    public static void main(String[] arguments) throws IOException, InterruptedException {
        List<String> wanted = List.of(arguments);
        System.out.println("| what | measured | baseline | ratio | wanted |");
        System.out.println("|---|---|---|---|---|");
        Path data = Files.createTempDirectory("bench");
        if (wanted.isEmpty() || wanted.contains("start")) {
            StartBench.run(data.resolve("start"));
        }
        if (wanted.isEmpty() || wanted.contains("history")) {
            HistoryBench.run(data.resolve("history"));
        }
        if (wanted.isEmpty() || wanted.contains("when")) {
            WhenBench.run();
        }
        if (wanted.isEmpty() || wanted.contains("night")) {
            NightBench.run();
        }
        if (wanted.isEmpty() || wanted.contains("sweep")) {
            SweepBench.run(data.resolve("sweep"));
        }
        if (wanted.isEmpty() || wanted.contains("commands")) {
            SweepBench.commands(data.resolve("commands"));
        }
        if (wanted.isEmpty() || wanted.contains("due")) {
            EngineBench.due(data.resolve("due"));
        }
        if (wanted.isEmpty() || wanted.contains("events")) {
            EventBench.run(data.resolve("events"));
        }
        if (wanted.isEmpty() || wanted.contains("told")) {
            TellBench.run(data.resolve("told"));
        }
        if (wanted.isEmpty() || wanted.contains("chain")) {
            ChainBench.run(data.resolve("chain"));
        }
        if (wanted.isEmpty() || wanted.contains("console")) {
            ConsoleBench.run(Files.createDirectories(data.resolve("console")));
        }
        if (wanted.isEmpty() || wanted.contains("graph")) {
            GraphBench.run(data.resolve("graph"));
        }
        if (wanted.isEmpty() || wanted.contains("load")) {
            LoadBench.run(data.resolve("load"));
        }
        if (wanted.isEmpty() || wanted.contains("steps")) {
            EngineBench.steps(data.resolve("steps"));
        }
        if (wanted.isEmpty() || wanted.contains("engine")) {
            EngineBench.run(data.resolve("engine"));
        }
    }

    /** Prints one measurement. */
    static void line(String what, String measured, String baseline, double ratio, String wanted) {
        System.out.println(
                String.format(Locale.ROOT, "| %s | %s | %s | %.2f | %s |", what, measured, baseline, ratio, wanted));
    }

    static String millis(double nanos) {
        return String.format(Locale.ROOT, "%.1f ms", nanos / 1e6);
    }

    /** The value that so many of a hundred do not exceed. */
    static double percentile(List<Double> values, double percent) {
        List<Double> sorted = values.stream().sorted().toList();
        return sorted.get((int) Math.min(sorted.size() - 1L, Math.round(Math.ceil(sorted.size() * percent / 100)) - 1));
    }

    static double nanos(Duration duration) {
        return duration.toNanos();
    }
}
