package org.gantrel.bench;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.gantrel.core.definition.DefinitionReader;

/** What much that is stored or waits costs a service that is otherwise idle, and how fast it comes in. */
final class LoadBench {

    private static final int JOBS = 1_000;
    private static final int SCHEDULES = 50;
    private static final int JOBS_A_CALL = 50;
    private static final int LANES = 50;
    private static final int WAITING = 10_000;

    private LoadBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        try (Program service = Program.start(data.resolve("stored"))) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            double before = EventBench.idle(service);
            long bytes = service.residentBytes();
            imports(service);
            bring(service, JOBS, 2 * JOBS);
            double stored = EventBench.idle(service);
            Bench.line(
                    "an idle service with " + 2 * JOBS * SCHEDULES + " schedules",
                    percent(stored) + " of a core, " + ((service.residentBytes() - bytes) >> 20) + " MB more",
                    "empty " + percent(before),
                    stored / 0.02,
                    "under 2 % of a core (ratio to that), under 300 MB more");
        }
        try (Program service = Program.start(data.resolve("waiting"))) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            double before = EventBench.idle(service);
            fillLanes(service);
            double waiting = EventBench.idle(service);
            Bench.line(
                    "an idle service with " + WAITING + " runs waiting in " + LANES + " lanes",
                    percent(waiting) + " of a core",
                    "empty " + percent(before),
                    waiting / 0.02,
                    "under 2 % of a core (ratio to that)");
        }
    }

    private static void imports(Program service) throws IOException, InterruptedException {
        double reading = 0;
        long begin = System.nanoTime();
        bring(service, 0, JOBS);
        double took = System.nanoTime() - begin;
        for (int i = 0; i < JOBS; i++) {
            String text = job(i);
            long from = System.nanoTime();
            DefinitionReader.readOne(text);
            reading += System.nanoTime() - from;
        }
        Bench.line(
                "importing " + JOBS + " jobs with " + SCHEDULES + " schedules each",
                String.format("%.0f s, %.0f schedules a second", took / 1e9, JOBS * SCHEDULES / took * 1e9),
                String.format("reading them %.1f s", reading / 1e9),
                took / 60e9,
                "under 60 s (ratio to that)");
    }

    private static void bring(Program service, int from, int to) throws IOException, InterruptedException {
        for (int first = from; first < to; first += JOBS_A_CALL) {
            String text = IntStream.range(first, first + JOBS_A_CALL)
                    .mapToObj(LoadBench::job)
                    .collect(Collectors.joining("---\n"));
            service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
        }
    }

    private static String job(int n) {
        String schedules = IntStream.range(0, SCHEDULES)
                .mapToObj(i -> "  - { name: s" + i + ", when: \"" + (i + n) % 60 + " " + i % 24 + " " + (1 + n % 28)
                        + " " + (1 + i % 12) + " *\", zone: Europe/Oslo }\n")
                .collect(Collectors.joining());
        return "task: job-" + n + "\nteam: bench\ndoes: { command: [ \"true\" ] }\nschedules:\n" + schedules;
    }

    private static void fillLanes(Program service) throws IOException, InterruptedException {
        String text = IntStream.range(0, LANES)
                .mapToObj(i -> "lane: lane-" + i + "\nteam: bench\nwidth: 1\n---\ntask: job-" + i
                        + "\nteam: bench\nwhile-running: 100\nlanes: [ lane-" + i
                        + " ]\ndoes: { command: [ \"true\" ] }\n")
                .collect(Collectors.joining("---\n"));
        service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
        for (int i = 0; i < LANES; i++) {
            service.call("PUT", "/api/v1/lanes/lane-" + i + "/closure", Map.of("why", "nothing is to begin"));
        }
        for (int i = 0; i < WAITING; i++) {
            service.call("POST", "/api/v1/jobs/job-" + i % LANES + "/runs", Map.of());
        }
    }

    private static String percent(double share) {
        return String.format("%.1f %%", 100 * share);
    }
}
