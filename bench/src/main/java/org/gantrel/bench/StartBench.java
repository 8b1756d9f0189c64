package org.gantrel.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;

/** How soon a command answers and the service is ready, beside a bare Java program that says hello. */
final class StartBench {

    private static final int ROUNDS = 15;
    private static final int STARTS = 5;
    private static final long IDLE_MILLIS = 10_000;

    private StartBench() {}

    /** The baseline: {@code java} with no more than one class. */
    static final class Hello {
        private Hello() {}

        public static void main(String[] arguments) {
            System.out.println("hello");
        }
    }

    static void run(Path data) throws IOException, InterruptedException {
        Path demo = demoWorld(data);
        try (Program first = Program.start(data, "--demo", demo.toString(), "--demo-days", "31")) {
            var hello = new ArrayList<Double>();
            var list = new ArrayList<Double>();
            Map<String, String> environment = Map.of("GANTREL_URL", first.url(), "GANTREL_TOKEN", first.token());
            for (int i = 0; i < ROUNDS; i++) {
                hello.add(time(Map.of(), helloLine()));
                list.add(time(
                        environment, List.of(Program.ROOT.resolve("bin/gantrel").toString(), "run", "list")));
            }
            double base = Bench.percentile(hello, 50);
            double measured = Bench.percentile(list, 50);
            Bench.line(
                    "`gantrel run list`, median",
                    Bench.millis(measured),
                    "hello world " + Bench.millis(base),
                    measured / base,
                    "at most 12");
        }
        var starts = new ArrayList<Double>();
        var hello = new ArrayList<Double>();
        long resident = 0;
        for (int i = 0; i < STARTS; i++) {
            hello.add(time(Map.of(), helloLine()));
            try (Program again = Program.start(data)) {
                starts.add(again.startNanos());
                if (i == STARTS - 1) {
                    Thread.sleep(IDLE_MILLIS);
                    resident = again.residentBytes();
                }
            }
        }
        double start = Bench.percentile(starts, 50);
        double base = Bench.percentile(hello, 50);
        Bench.line(
                "service ready at a second start, median",
                Bench.millis(start),
                "hello world " + Bench.millis(base),
                start / base,
                "at most 6 s");
        Bench.line(
                "resident memory, idle on the demo",
                (resident >> 20) + " MB",
                "450 MB",
                resident / (450.0 * (1 << 20)),
                "at most 450 MB");
    }

    /** The demo's world beside the data, with numbers for its stand-ins' ports; none of them answers. */
    static Path demoWorld(Path data) throws IOException {
        Path demo = Program.ROOT.resolve("demo");
        Path world = data.resolveSibling("world");
        Files.createDirectories(world.resolve("definitions"));
        try (Stream<Path> files = Files.list(demo.resolve("definitions"))) {
            for (Path file : files.toList()) {
                fill(file, world.resolve("definitions").resolve(file.getFileName()), world);
            }
        }
        fill(demo.resolve("world.yaml"), world.resolve("world.yaml"), world);
        return world;
    }

    private static void fill(Path from, Path to, Path world) throws IOException {
        Files.writeString(
                to,
                Files.readString(from)
                        .replaceAll("[A-Z]+PORT", "9")
                        .replace("HARBOURKEY", "ssh-ed25519 " + "A".repeat(68))
                        .replace("LOWMARSH", world.toString()));
    }

    private static List<String> helloLine() {
        return List.of(
                Path.of(System.getProperty("java.home"), "bin", "java").toString(),
                "-XX:+UseSerialGC",
                "-XX:TieredStopAtLevel=1",
                "-cp",
                System.getProperty("java.class.path"),
                Hello.class.getName());
    }

    private static double time(Map<String, String> environment, List<String> line)
            throws IOException, InterruptedException {
        var builder =
                new ProcessBuilder(line).redirectErrorStream(true).redirectOutput(ProcessBuilder.Redirect.DISCARD);
        builder.environment().putAll(environment);
        long begin = System.nanoTime();
        int code = builder.start().waitFor();
        if (code != 0) {
            throw new IOException(line + " ended with " + code);
        }
        return System.nanoTime() - begin;
    }
}
