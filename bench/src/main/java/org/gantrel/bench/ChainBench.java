package org.gantrel.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.gantrel.core.chain.ChainCourse;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.run.RunState;
import tools.jackson.databind.JsonNode;

/** What a chain adds to its steps: beside the same number of single runs of the same job, one after another and side by side. */
final class ChainBench {

    private static final int LONG = 1_000;
    private static final int WIDE = 200;
    private static final int DECISIONS = 2_000;

    private ChainBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        decide();
        Path folder = Files.createDirectories(data.resolve("files"));
        Path file = Files.writeString(folder.resolve("there"), "x");
        try (Program service = Program.start(data.resolve("service"), "--runs-at-once", String.valueOf(WIDE))) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            define(service, file);
            warmUp(service);
            Took rows = took(service, () -> sweep(service));
            Took longOne = took(service, () -> lead(service, "long"));
            say("a chain of " + LONG + " steps", "rows of a sweep, one at a time,", LONG, longOne, rows);
            Took single = took(service, () -> singles(service));
            Took wide = took(service, () -> lead(service, "wide"));
            say("a chain of " + WIDE + " steps side by side", "single runs", WIDE, wide, single);
        }
    }

    /** Ten layers of ten, each step joined with all of the layer before; half of them have run. */
    private static void decide() {
        List<Step> steps = new ArrayList<>();
        Map<String, RunState> runs = new HashMap<>();
        for (int i = 0; i < 100; i++) {
            int layer = i / 10;
            List<String> after = layer == 0
                    ? List.of()
                    : IntStream.range(layer * 10 - 10, layer * 10)
                            .mapToObj(j -> "s" + j)
                            .toList();
            steps.add(Step.of("s" + i, "job", after, FollowsOn.SUCCESS, Map.of()));
            if (i < 50) {
                runs.put("s" + i, RunState.SUCCEEDED);
            }
        }
        var times = new ArrayList<Double>();
        for (int i = 0; i < DECISIONS; i++) {
            long begin = System.nanoTime();
            int ready = new ChainCourse(steps, runs).beginning().size();
            if (i >= DECISIONS / 2) {
                times.add((double) (System.nanoTime() - begin));
            }
            if (ready != 10) {
                throw new IllegalStateException("ten are to begin, not " + ready);
            }
        }
        double p99 = Bench.percentile(times, 99);
        Bench.line(
                "a decision over 10 layers of 10 steps, fully joined, median and p99",
                micros(Bench.percentile(times, 50)) + ", " + micros(p99),
                "the promise 1000 µs",
                p99 / 1e6,
                "under 1 ms");
    }

    private static String micros(double nanos) {
        return String.format(Locale.ROOT, "%.0f µs", nanos / 1e3);
    }

    private static void define(Program service, Path file) throws IOException, InterruptedException {
        String task = "task: %s\nteam: bench\n%sdoes: { checks: [ { name: there, file: " + file + " } ] }\n";
        String text = String.join(
                "---\n",
                task.formatted("one", "parameters: { n: { type: number, default: 0 } }\n"),
                task.formatted("many", "while-running: " + WIDE + "\n"),
                "roster: places\nteam: bench\nfrom: { csv: " + rows(file) + " }\nat-once: 1\n",
                "chain: long\nteam: bench\nsteps:\n" + steps(LONG, "one", ""),
                "chain: wide\nteam: bench\nsteps:\n" + steps(WIDE, "many", ", after: []"));
        service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
    }

    private static String steps(int count, String job, String more) {
        return IntStream.range(0, count)
                .mapToObj(i -> "  - { step: s" + i + ", job: " + job + more + " }\n")
                .collect(Collectors.joining());
    }

    private static void warmUp(Program service) throws IOException, InterruptedException {
        for (int i = 0; i < 200; i++) {
            service.call("POST", "/api/v1/jobs/many/runs", Map.of());
        }
        awaitNone(service);
    }

    private static Path rows(Path file) throws IOException {
        String text = IntStream.range(0, LONG).mapToObj(i -> i + "\n").collect(Collectors.joining());
        return Files.writeString(file.resolveSibling("rows.csv"), "n\n" + text);
    }

    /** As many runs one after another that no chain leads: the rows of a sweep, one at a time. */
    private static double sweep(Program service) throws IOException, InterruptedException {
        long begin = System.nanoTime();
        service.call("POST", "/api/v1/jobs/one/runs", Map.of("over", Map.of("roster", "places")));
        awaitNone(service);
        return System.nanoTime() - begin;
    }

    /** As many single runs side by side, held until all of them are written down. */
    private static double singles(Program service) throws IOException, InterruptedException {
        JsonNode hold = service.call(
                "POST",
                "/api/v1/holds",
                Map.of("on", "job", "name", "many", "why", "until all of them are written down"));
        for (int i = 0; i < WIDE; i++) {
            service.call("POST", "/api/v1/jobs/many/runs", Map.of());
        }
        long begin = System.nanoTime();
        service.call("DELETE", "/api/v1/holds/" + hold.path("id").asLong(), null);
        awaitNone(service);
        return System.nanoTime() - begin;
    }

    private static double lead(Program service, String chain) throws IOException, InterruptedException {
        long begin = System.nanoTime();
        service.call("POST", "/api/v1/jobs/" + chain + "/runs", Map.of());
        awaitNone(service);
        double took = System.nanoTime() - begin;
        if (service.call("GET", "/api/v1/runs?job=" + chain + "&state=succeeded", null)
                .isEmpty()) {
            throw new IllegalStateException(chain + " did not go well");
        }
        return took;
    }

    private static void say(String what, String than, int count, Took led, Took single) {
        Bench.line(
                what + ", the engine's own time added a step",
                Bench.millis((led.engine() - single.engine()) / count),
                than + " " + Bench.millis(single.engine() / count) + " each",
                led.engine() / single.engine(),
                "under 5 ms");
        Bench.line(
                what + ", added a step from begin to end",
                Bench.millis((led.all() - single.all()) / count),
                than + " " + Bench.millis(single.all() / count) + " each",
                led.all() / single.all(),
                "");
    }

    /** How long something took from its begin to its end, and what the engine was busy for meanwhile; in nanoseconds. */
    private record Took(double all, double engine) {}

    private interface Work {
        double nanos() throws IOException, InterruptedException;
    }

    private static Took took(Program service, Work work) throws IOException, InterruptedException {
        double before = busy(service);
        double all = work.nanos();
        return new Took(all, busy(service) - before);
    }

    private static double busy(Program service) throws IOException, InterruptedException {
        return 1e9
                * service.text("/metrics")
                        .lines()
                        .filter(line -> line.startsWith("gantrel_engine_step_seconds_sum"))
                        .mapToDouble(line -> Double.parseDouble(line.substring(line.lastIndexOf(' ') + 1)))
                        .findFirst()
                        .orElseThrow();
    }

    private static void awaitNone(Program service) throws IOException, InterruptedException {
        while (!service.call("GET", "/api/v1/runs?state=waiting", null).isEmpty()
                || !service.call("GET", "/api/v1/runs?state=running", null).isEmpty()) {
            Thread.sleep(50);
        }
    }
}
