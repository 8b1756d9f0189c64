package org.gantrel.bench;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import tools.jackson.databind.JsonNode;

/** How late the engine starts what is due when it is otherwise idle, beside what no start can do without. */
final class EngineBench {

    /** A hundred starts, so that the p99 is that of one of them. */
    private static final Duration LENGTH = Duration.ofSeconds(Integer.getInteger("gantrel.bench.seconds", 505));

    /** A service that has just taken a definition in is not idle yet. */
    private static final Duration SETTLING = Duration.ofSeconds(30);

    private static final String EVERY_FIVE_SECONDS =
            "DTSTART:20260101T000000 RRULE:FREQ=MINUTELY;BYSECOND=0,5,10,15,20,25,30,35,40,45,50,55";

    private static final int WAITING = 1_000;

    private static final int DUE = 1_000;
    private static final int DUE_A_JOB = 50;

    /** How long after they are due nobody asks for them. */
    private static final Duration QUIET = Duration.ofSeconds(15);

    private EngineBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        try (Program service = Program.start(data)) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            String text = "task: tick\nteam: bench\ndoes: { command: [ \"true\" ] }\n"
                    + "schedules: [ { name: often, when: \"" + EVERY_FIVE_SECONDS + "\", zone: UTC } ]\n";
            service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
            var waits = new ArrayList<Double>();
            Instant idle = Instant.now().plus(SETTLING);
            Instant end = idle.plus(LENGTH);
            while (Instant.now().isBefore(end)) {
                waits.add(least(data));
            }
            var lags = new ArrayList<Double>();
            for (JsonNode run : service.call("GET", "/api/v1/runs?limit=500&cause=schedule", null)) {
                Instant planned = Instant.parse(run.path("plannedAt").asString());
                if (planned.isBefore(idle)) {
                    continue;
                }
                Instant started = launched(data, run.path("number").asLong());
                lags.add(Bench.nanos(Duration.between(planned, started)));
            }
            double base = Bench.percentile(waits, 99);
            double lag = Bench.percentile(lags, 99);
            Bench.line(
                    "launch lag of " + lags.size() + " due runs, median",
                    Bench.millis(Bench.percentile(lags, 50)),
                    "wait, sync and start " + Bench.millis(Bench.percentile(waits, 50)),
                    Bench.percentile(lags, 50) / Math.max(Bench.percentile(waits, 50), 1e5),
                    "");
            Bench.line(
                    "launch lag of " + lags.size() + " due runs, p99",
                    Bench.millis(lag),
                    "wait, sync and start " + Bench.millis(base),
                    lag / Math.max(base, 1e5),
                    "within 50 ms");
        }
    }

    /** A thousand schedules that are due in the same second: when the last of them has begun and ended. */
    static void due(Path data) throws IOException, InterruptedException {
        try (Program service = Program.start(data, "--runs-at-once", String.valueOf(DUE))) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            Path there = Files.writeString(data.resolve("there"), "x");
            ZonedDateTime at = ZonedDateTime.now(ZoneOffset.UTC).plusSeconds(90).truncatedTo(ChronoUnit.MINUTES);
            String text = IntStream.range(0, DUE / DUE_A_JOB)
                    .mapToObj(job -> "task: due-" + job + "\nteam: bench\nwhile-running: " + DUE_A_JOB
                            + "\ndoes: { checks: [ { name: there, file: " + there + " } ] }\nschedules:\n"
                            + IntStream.range(0, DUE_A_JOB)
                                    .mapToObj(i -> "  - { name: s" + i + ", when: \"" + at.getMinute() + " "
                                            + at.getHour() + " * * *\", zone: UTC }\n")
                                    .collect(Collectors.joining()))
                    .collect(Collectors.joining("---\n"));
            service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
            // whoever asks for a thousand runs each second takes a good part of what is measured
            Thread.sleep(
                    Duration.between(Instant.now(), at.toInstant().plus(QUIET)).toMillis());
            var lags = new ArrayList<Double>();
            while (lags.size() < DUE) {
                Thread.sleep(1_000);
                lags.clear();
                JsonNode last = null;
                do {
                    String before =
                            last == null ? "" : "&after=" + last.path("number").asLong();
                    last = null;
                    for (JsonNode run : service.call("GET", "/api/v1/runs?limit=500&cause=schedule" + before, null)) {
                        last = run;
                        if (run.has("finishedAt")) {
                            lags.add(Bench.nanos(Duration.between(
                                    at.toInstant(),
                                    Instant.parse(run.path("finishedAt").asString()))));
                        }
                    }
                } while (last != null);
            }
            Bench.line(
                    DUE
                            + " schedules due in one second, tasks within the service: until half and all of them have begun and ended",
                    Bench.millis(Bench.percentile(lags, 50)) + ", " + Bench.millis(Bench.percentile(lags, 100)),
                    "the promise 2000.0 ms",
                    Bench.percentile(lags, 100) / 2e9,
                    "within 2 s");
        }
    }

    /** How long a step of the engine takes while a thousand runs wait for the one place there is. */
    static void steps(Path data) throws IOException, InterruptedException {
        try (Program service = Program.start(data, "--runs-at-once", "1")) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            String text = "task: hold\nteam: bench\ndoes: { shell: sleep 900 }\n---\n"
                    + "task: wait\nteam: bench\ndoes: { command: [ \"true\" ] }\n";
            service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
            service.call("POST", "/api/v1/jobs/hold/runs", Map.of());
            Thread.sleep(2_000);
            for (int i = 0; i < WAITING; i++) {
                service.call("POST", "/api/v1/jobs/wait/runs", Map.of());
            }
            // what was measured while they came is forgotten by then (Micrometer keeps percentiles for two minutes)
            Thread.sleep(SETTLING.multipliedBy(5).toMillis() * Integer.getInteger("gantrel.bench.seconds", 505) / 505);
            var takes = new ArrayList<Double>();
            for (int i = 0; i < 60; i++) {
                service.call("POST", "/api/v1/jobs/wait/runs", Map.of());
                Thread.sleep(500);
            }
            String metrics = service.text("/metrics");
            for (String quantile : List.of("0.5", "0.99")) {
                double took = metrics.lines()
                        .filter(line -> line.startsWith("gantrel_engine_step_seconds{quantile=\"" + quantile + "\""))
                        .mapToDouble(line -> Double.parseDouble(line.substring(line.lastIndexOf(' ') + 1)) * 1e9)
                        .findFirst()
                        .orElseThrow();
                takes.add(took);
            }
            Bench.line(
                    "a step of the engine with " + WAITING + " waiting runs, median and p99",
                    Bench.millis(takes.get(0)) + ", " + Bench.millis(takes.get(1)),
                    "the promise 20.0 ms",
                    takes.get(0) / 20e6,
                    "under 20 ms");
        }
    }

    /** When the launcher of a run made its claim: the command is about to be executed then. */
    private static Instant launched(Path data, long number) throws IOException {
        Path claim = data.resolve("runs").resolve(number / 1000 + "/" + number + "/claim");
        return Files.getLastModifiedTime(claim).toInstant();
    }

    /** The least that a start takes: to wake in time, to have a few bytes on the disk, and to start a program. */
    private static double least(Path data) throws IOException, InterruptedException {
        long begin = System.nanoTime();
        Thread.sleep(500);
        try (var file = FileChannel.open(
                data.resolve("least"),
                StandardOpenOption.CREATE,
                StandardOpenOption.WRITE,
                StandardOpenOption.APPEND)) {
            file.write(ByteBuffer.wrap(new byte[] {'x'}));
            file.force(true);
        }
        new ProcessBuilder("true").start().waitFor();
        return System.nanoTime() - begin - 500e6;
    }
}
