package org.gantrel.bench;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** How fast a page of History is with a hundred thousand runs stored, beside a call that reads nothing. */
final class HistoryBench {

    private static final int RUNS = 100_000;
    private static final int CALLS = 100;
    private static final int WARM_UP = 40;

    private HistoryBench() {}

    static void run(Path data) throws IOException, InterruptedException {
        Path demo = StartBench.demoWorld(data);
        Program.start(data, "--demo", demo.toString(), "--demo-days", "3").close();
        fill(data);
        Map<String, String> pages = new LinkedHashMap<>();
        pages.put("the newest page", "/api/v1/runs?limit=50");
        pages.put("an old page", "/api/v1/runs?limit=50&after=40000");
        pages.put("failures of a job", "/api/v1/runs?limit=50&job=reconcile-fuel&state=failed");
        pages.put("a word that many hold", "/api/v1/runs?limit=50&q=exit");
        pages.put("a word that none holds", "/api/v1/runs?limit=50&q=nowheretobefound");
        pages.put("runs of a job that has many", "/api/v1/runs?limit=50&job=close-kiosk");
        pages.put("the list of all jobs", "/api/v1/jobs");
        try (Program service = Program.start(data)) {
            for (var page : pages.entrySet()) {
                measure(service, page.getKey(), page.getValue());
            }
            service.signIn("ivo.brandt", "lowmarsh-demo");
            measure(service, "the newest page of one who sees one team", "/api/v1/runs?limit=50");
        }
    }

    private static void measure(Program service, String what, String path) throws IOException, InterruptedException {
        var health = new ArrayList<Double>();
        var times = new ArrayList<Double>();
        for (int i = 0; i < WARM_UP + CALLS; i++) {
            double base = time(service, "/api/v1/health");
            double page = time(service, path);
            if (i >= WARM_UP) {
                health.add(base);
                times.add(page);
            }
        }
        double base = Bench.percentile(health, 95);
        double page = Bench.percentile(times, 95);
        Bench.line(
                "History, " + what + ", p95",
                Bench.millis(page),
                "health " + Bench.millis(base),
                page / base,
                "under 100 ms");
    }

    private static double time(Program service, String path) throws IOException, InterruptedException {
        long begin = System.nanoTime();
        service.call("GET", path, null);
        return System.nanoTime() - begin;
    }

    /** Copies the runs that are there until there are enough; only this measurement writes past the ledger. */
    private static void fill(Path data) {
        try (Connection connection = DriverManager.getConnection(
                "jdbc:h2:file:" + data.resolve("gantrel"),
                "gantrel",
                Files.readString(data.resolve("database-password")).strip())) {
            List<String> columns = new ArrayList<>();
            try (var found = connection.getMetaData().getColumns(null, null, "RUN", null)) {
                while (found.next()) {
                    columns.add(found.getString("COLUMN_NAME"));
                }
            }
            columns.removeAll(List.of("NUMBER", "PARENT"));
            String names = String.join(", ", columns);
            String copy = "insert into run (number, " + names + ") select number + ?, " + names
                    + " from run where number <= ? order by number";
            long highest = highest(connection);
            long count = highest - 1000;
            String copyWords = "insert into run_word (run_number, word) select run_number + ?, word from run_word"
                    + " where run_number <= ?";
            try (PreparedStatement insert = connection.prepareStatement(copy);
                    PreparedStatement insertWords = connection.prepareStatement(copyWords)) {
                for (long copies = 1; copies * count < RUNS; copies++) {
                    insert.setLong(1, copies * count);
                    insert.setLong(2, highest);
                    insert.executeUpdate();
                    insertWords.setLong(1, copies * count);
                    insertWords.setLong(2, highest);
                    insertWords.executeUpdate();
                }
            }
        } catch (SQLException | IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static long highest(Connection connection) throws SQLException {
        try (var rows = connection.createStatement().executeQuery("select max(number) from run")) {
            rows.next();
            return rows.getLong(1);
        }
    }
}
