package org.gantrel.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/** What events cost: from an event to its run's start, with many triggers that listen, and a large folder that is watched. */
final class EventBench {

    private static final int CALLS = 200;
    private static final int RUNS = 1_500;
    private static final int LISTENERS = 100;
    private static final int FILES = 100_000;
    private static final Duration IDLE = Duration.ofSeconds(40);

    private EventBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        Path folder = Files.createDirectories(data.resolve("files"));
        Path file = Files.writeString(folder.resolve("there"), "x");
        try (Program service = Program.start(data.resolve("service"), "--runs-at-once", "16")) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            define(service, work("work", file) + "while-running: 100\n");
            runs(service);
            define(
                    service,
                    work("called", file)
                            + "while-running: 100\ntriggers: [ { name: after, on: run.ended, of: work } ]\n");
            latency(service);
            define(service, work("called", file));
            listening(service, file);
            watched(service, Files.createDirectories(data.resolve("watched")), file);
        }
    }

    private static String work(String name, Path file) {
        return "task: " + name + "\nteam: bench\ndoes: { checks: [ { name: there, file: " + file + " } ] }\n";
    }

    private static void define(Program service, String text) throws IOException, InterruptedException {
        service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b.yaml", "text", text))));
    }

    /** From the end of a run to the start of the one that it triggers, by the service's own clock, one after another. */
    private static void latency(Program service) throws IOException, InterruptedException {
        var event = new ArrayList<Double>();
        var hand = new ArrayList<Double>();
        for (int i = 0; i < CALLS; i++) {
            long number = service.call("POST", "/api/v1/jobs/work/runs", Map.of())
                    .path("number")
                    .asLong();
            JsonNode work = ended(service, number);
            JsonNode follows = service.call("GET", "/api/v1/runs/" + number + "/lineage", null);
            while (follows.path("caused").isEmpty()
                    || !follows.path("caused").get(0).path("state").asString().equals("succeeded")) {
                Thread.sleep(20);
                follows = service.call("GET", "/api/v1/runs/" + number + "/lineage", null);
            }
            Instant began =
                    Instant.parse(follows.path("caused").get(0).path("at").asString());
            Instant ended = Instant.parse(work.path("finishedAt").asString());
            event.add((double) Duration.between(ended, began).toNanos());
            hand.add((double) Duration.between(
                            Instant.parse(work.path("queuedAt")
                                    .asString(work.path("plannedAt").asString())),
                            Instant.parse(work.path("startedAt").asString()))
                    .toNanos());
        }
        double p99 = Bench.percentile(event, 99);
        Bench.line(
                "from an event to its run's start, median and p99",
                Bench.millis(Bench.percentile(event, 50)) + ", " + Bench.millis(p99),
                "a start by hand " + Bench.millis(Bench.percentile(hand, 50)) + ", "
                        + Bench.millis(Bench.percentile(hand, 99)),
                p99 / 100e6,
                "p99 under 100 ms");
    }

    private static JsonNode ended(Program service, long number) throws IOException, InterruptedException {
        JsonNode run = service.call("GET", "/api/v1/runs/" + number, null);
        while (!run.has("finishedAt")) {
            Thread.sleep(5);
            run = service.call("GET", "/api/v1/runs/" + number, null);
        }
        return run;
    }

    /** The same runs, with nobody and with many who listen to each of their events and whose conditions do not hold. */
    private static void listening(Program service, Path file) throws IOException, InterruptedException {
        runs(service);
        double without = runs(service);
        var text = new StringBuilder();
        for (int i = 0; i < LISTENERS / 2; i++) {
            text.append(text.isEmpty() ? "" : "---\n")
                    .append(work("ear-" + i, file))
                    .append(
                            "triggers:\n  - { name: ended, on: run.ended, of: work, when: \"event.state == 'failed' && event.run > 0\" }\n")
                    .append(
                            "  - { name: begun, on: run.started, of: \"wor*\", when: \"event.cause == 'schedule'\" }\n");
        }
        define(service, text.toString());
        double with = runs(service);
        Bench.line(
                "runs of a trivial task with " + LISTENERS + " triggers that are evaluated for their events",
                "%.0f a second, %.0f events".formatted(RUNS / with, 3 * RUNS / with),
                "%.0f a second without, %.0f events".formatted(RUNS / without, 3 * RUNS / without),
                without / with,
                "ratio at least 0.50");
    }

    /** Seconds until all runs have ended and all their events were dealt with. */
    private static double runs(Program service) throws IOException, InterruptedException {
        long begin = System.nanoTime();
        for (int i = 0; i < RUNS; i++) {
            service.call("POST", "/api/v1/jobs/work/runs", Map.of());
        }
        while (!service.call("GET", "/api/v1/runs?job=work&state=waiting,running&limit=1", null)
                .isEmpty()) {
            Thread.sleep(20);
        }
        return (System.nanoTime() - begin) / 1e9;
    }

    /** The share of a core that the service takes with nothing to do, before and while it watches a folder of many files. */
    private static void watched(Program service, Path folder, Path file) throws IOException, InterruptedException {
        for (int i = 0; i < FILES; i++) {
            Files.createFile(folder.resolve("f" + i));
        }
        double before = idle(service);
        define(
                service,
                work("watching", file) + "triggers: [ { name: came, on: file.arrived, under: " + folder + " } ]\n");
        long begin = System.nanoTime();
        while (!service.call("GET", "/api/v1/triggers/watching/came", null)
                .path("trigger")
                .has("lookedAt")) {
            Thread.sleep(100);
        }
        double first = (System.nanoTime() - begin) / 1e9;
        double watching = idle(service);
        Bench.line(
                "a folder of " + FILES
                        + " known files, with nothing happening; its first look took %.1f s".formatted(first),
                "%.2f %% of a core more".formatted(100 * (watching - before)),
                "%.2f %% without".formatted(100 * before),
                before == 0 ? 0 : watching / before,
                "under 1 % of a core");
    }

    /** The share of a core that a service takes once what was under way before is done with. */
    static double idle(Program service) throws IOException, InterruptedException {
        double cpu = service.cpuSeconds();
        Thread.sleep(5_000);
        while (service.cpuSeconds() - cpu > 0.5) {
            cpu = service.cpuSeconds();
            Thread.sleep(5_000);
        }
        return share(service);
    }

    private static double share(Program service) throws IOException, InterruptedException {
        Thread.sleep(5_000);
        double cpu = service.cpuSeconds();
        Thread.sleep(IDLE.toMillis());
        return (service.cpuSeconds() - cpu) / IDLE.toSeconds();
    }
}
