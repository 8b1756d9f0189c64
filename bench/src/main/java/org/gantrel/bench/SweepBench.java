package org.gantrel.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import tools.jackson.databind.JsonNode;

/** How fast a sweep goes through its rows, beside the rate at which H2 commits durably; and how soon a rehearsal answers. */
final class SweepBench {

    private static final int ROWS = 10_000;
    private static final int MANY = Integer.getInteger("gantrel.bench.many", 100_000);
    private static final int CONNECTIONS = 8;
    private static final long COMMITTING_NANOS = 5_000_000_000L;
    private static final int REHEARSALS = 50;
    private static final int COMMANDS = 3_000;
    private static final int COMMANDS_AT_ONCE = 16;

    /** What is busy all day is compiled better than what has just begun; a sweep is measured new, and after some. */
    private static final int TIMES = 5;

    private SweepBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        Path folder = Files.createDirectories(data.resolve("rows"));
        Files.writeString(folder.resolve("there"), "x");
        double commits = commitRate(data.resolve("raw"));
        try (Program service = Program.start(data.resolve("service"), "--runs-at-once", "32")) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            String text = "task: look\nteam: bench\nparameters: { n: { type: number } }\n"
                    + "does: { checks: [ { name: there, file: " + folder.resolve("there") + " } ] }\n---\n"
                    + "roster: some\nteam: bench\nfrom: { csv: " + rows(folder, ROWS) + " }\nat-once: 32\n---\n"
                    + "roster: many\nteam: bench\nfrom: { csv: " + rows(folder, MANY) + " }\nat-once: 32\n";
            service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
            rehearse(service);
            String trivial = "sweep of " + ROWS + " rows of a trivial task in the service";
            line(trivial, rate(service, ROWS), commits, "H2 commits a second, synced in groups", 0.15);
            long before = service.heapBytes();
            String many = sweep(service, "many");
            long most = before;
            for (int tenth = 1; tenth <= 10; tenth++) {
                awaitRows(service, many, MANY / 10 * tenth);
                most = Math.max(most, service.heapBytes());
            }
            Bench.line(
                    "heap that is live after each tenth of a sweep of " + MANY + " rows, the most",
                    ((most - before) >> 20) + " MB more",
                    (before >> 20) + " MB",
                    (double) most / before,
                    "less than 100 MB more");
            String after = "the same sweep after " + (ROWS + MANY) + " rows";
            line(after, rate(service, ROWS), commits, "H2 commits a second, synced in groups", 0.15);
        }
    }

    /** Rows that are commands, beside as many processes started and waited for with nothing around them. */
    static void commands(Path data) throws IOException, InterruptedException {
        double raw = spawnRate();
        try (Program service =
                Program.start(data.resolve("service"), "--runs-at-once", String.valueOf(COMMANDS_AT_ONCE))) {
            service.call("POST", "/api/v1/teams", Map.of("name", "bench", "about", ""));
            String text = "task: look\nteam: bench\nparameters: { n: { type: number } }\n"
                    + "does: { command: [ /bin/true ] }\n---\nroster: some\nteam: bench\nfrom: { csv: "
                    + rows(Files.createDirectories(data.resolve("rows")), COMMANDS) + " }\nat-once: "
                    + COMMANDS_AT_ONCE + "\n";
            service.call("POST", "/api/v1/imports", Map.of("files", List.of(Map.of("name", "b", "text", text))));
            String commands = "sweep of " + COMMANDS + " rows of /bin/true, " + COMMANDS_AT_ONCE + " at once";
            line(commands, rate(service, COMMANDS), raw, "processes a second", 0.25);
            for (int i = 2; i < TIMES; i++) {
                rate(service, COMMANDS);
            }
            line("the same sweep, time " + TIMES, rate(service, COMMANDS), raw, "processes a second", 0.25);
        }
    }

    /** Rows a second of a sweep from its start by hand to the durable end of its last row. */
    private static double rate(Program service, int rows) throws IOException, InterruptedException {
        long begin = System.nanoTime();
        awaitRows(service, sweep(service, "some"), rows);
        return rows * 1e9 / (System.nanoTime() - begin);
    }

    private static void line(String what, double rate, double baseline, String unit, double wanted) {
        Bench.line(
                what,
                String.format(Locale.ROOT, "%.0f rows a second", rate),
                String.format(Locale.ROOT, "%.0f %s", baseline, unit),
                rate / baseline,
                "ratio at least " + wanted);
    }

    private static double spawnRate() throws InterruptedException {
        ExecutorService threads = Executors.newFixedThreadPool(COMMANDS_AT_ONCE);
        long begin = System.nanoTime();
        try {
            var all = new ArrayList<Future<Integer>>();
            for (int i = 0; i < COMMANDS; i++) {
                all.add(threads.submit(
                        () -> new ProcessBuilder("/bin/true").start().waitFor()));
            }
            for (Future<Integer> each : all) {
                each.get();
            }
            return COMMANDS * 1e9 / (System.nanoTime() - begin);
        } catch (ExecutionException e) {
            throw new IllegalStateException(e);
        } finally {
            threads.shutdown();
        }
    }

    private static void rehearse(Program service) throws IOException, InterruptedException {
        var times = new ArrayList<Double>();
        for (int i = 0; i < REHEARSALS; i++) {
            long begin = System.nanoTime();
            service.call("POST", "/api/v1/jobs/look/rehearsal", Map.of("parameters", Map.of("n", "1")));
            times.add((double) System.nanoTime() - begin);
        }
        double p95 = Bench.percentile(times, 95);
        Bench.line("rehearsal, p95", Bench.millis(p95), "the promise 200.0 ms", p95 / 200e6, "under 200 ms");
    }

    /** Starts a sweep; says where it is found. */
    private static String sweep(Program service, String roster) throws IOException, InterruptedException {
        JsonNode run = service.call("POST", "/api/v1/jobs/look/runs", Map.of("over", Map.of("roster", roster)));
        return "/api/v1/runs/" + run.path("number").asLong();
    }

    private static void awaitRows(Program service, String sweep, int rows) throws IOException, InterruptedException {
        while (service.call("GET", sweep + "/sweep", null)
                        .path("counts")
                        .path("succeeded")
                        .asInt()
                < rows) {
            Thread.sleep(500);
        }
    }

    private static Path rows(Path folder, int count) throws IOException {
        var text = new StringBuilder("n\n");
        for (int i = 1; i <= count; i++) {
            text.append(i).append('\n');
        }
        return Files.writeString(folder.resolve(count + ".csv"), text);
    }

    /** Commits a second of one small row each, over several connections, each waiting for the disk; one force serves all that wait. */
    private static double commitRate(Path file) throws InterruptedException {
        String url = "jdbc:h2:file:" + file + ";WRITE_DELAY=0";
        ExecutorService threads = Executors.newFixedThreadPool(CONNECTIONS);
        try (Connection first = DriverManager.getConnection(url)) {
            first.createStatement()
                    .execute("create table t (id bigint generated always as identity, text varchar(40))");
            var group = new GroupSync();
            var counts = new ArrayList<Future<Integer>>();
            long end = System.nanoTime() + COMMITTING_NANOS;
            for (int i = 0; i < CONNECTIONS; i++) {
                counts.add(threads.submit(() -> commit(url, end, group)));
            }
            int all = 0;
            for (Future<Integer> count : counts) {
                all += count.get();
            }
            return all * 1e9 / COMMITTING_NANOS;
        } catch (SQLException | ExecutionException e) {
            throw new IllegalStateException(e);
        } finally {
            threads.shutdown();
        }
    }

    private static int commit(String url, long end, GroupSync group) throws SQLException {
        int count = 0;
        try (Connection connection = DriverManager.getConnection(url)) {
            connection.setAutoCommit(false);
            try (PreparedStatement insert = connection.prepareStatement("insert into t (text) values (?)")) {
                while (System.nanoTime() < end) {
                    insert.setString(1, "row " + count++);
                    insert.executeUpdate();
                    connection.commit();
                    group.sync(connection);
                }
            }
        }
        return count;
    }
}
