package org.gantrel.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import javax.sql.DataSource;
import org.flywaydb.core.Flyway;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunLogs;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.start.Serve;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;

@DisplayName("A data folder of before")
class UpgradeTest {

    @TempDir
    Path folder;

    @Test
    @DisplayName("keeps working: its runs are found, and what was under way goes on or ends with the reason")
    void keepsWorking() throws Exception {
        Settings settings = TestSettings.in(folder, 4);
        asItWas("jdbc:h2:file:" + settings.databaseFile());
        // a start that was claimed as it was done then, by a folder, and has ended while nobody was there
        Path run = settings.runsFolder().resolve("1/1002");
        Files.createDirectories(run.resolve("claim"));
        Files.writeString(run.resolve("process"), "999999 1\n");
        Files.writeString(run.resolve("exit"), "0\n");
        Files.writeString(run.resolve("log"), "said before\n");
        ConfigurableApplicationContext service = Serve.start(settings, Clock.systemUTC());
        try {
            Runs runs = service.getBean(Runs.class);
            Run old = runs.find(1001).orElseThrow();
            assertThat(old.message()).isEqualTo("exit code 1");
            assertThat(old.attempt()).isEqualTo(1);
            Await.until(
                    "the others have ended",
                    () -> runs.waiting().isEmpty()
                            && runs.underway("task").isEmpty()
                            && runs.underway("chain").isEmpty());
            assertThat(runs.find(1002).orElseThrow().state()).isEqualTo(RunState.WARNED);
            assertThat(service.getBean(RunLogs.class).lastLines(runs.find(1002).orElseThrow(), 1))
                    .containsExactly("said before");
            Run stopped = runs.find(1003).orElseThrow();
            assertThat(stopped.state()).isEqualTo(RunState.CANCELLED);
            assertThat(stopped.message()).isEqualTo("cancelled by mara.holt");
            // a chain that was between its steps goes on: what had ended is not begun again
            Run between = runs.find(1006).orElseThrow();
            assertThat(between.state()).isEqualTo(RunState.WARNED);
            assertThat(runs.children(1006)).extracting(Run::step).containsExactly("first", "second");
            assertThat(runs.children(1006).get(0).number()).isEqualTo(1007);
            // its output is a path that would be refused today
            assertThat(runs.find(1005).orElseThrow().message())
                    .isEqualTo("exit code 0; the output out/{a is not there");
            assertThat(texts(service.getBean(DataSource.class)))
                    .containsExactly("exit code 1, told as 7", "exit code 1, told as 9");
        } finally {
            service.close();
        }
    }

    /** The tables as the release before made them, with runs in every state. */
    private static void asItWas(String url) throws SQLException {
        Flyway.configure()
                .dataSource(url, "gantrel", "")
                .locations("classpath:db/migration")
                .target("5")
                .load()
                .migrate();
        try (Connection connection = DriverManager.getConnection(url, "gantrel", "")) {
            execute(connection, "insert into team (name, about) values ('revenue', '')");
            for (String job : new String[] {
                "1, 'tick', 'task', 'task: tick' || char(10) || 'team: revenue' || char(10) || 'does: { command: [ \"true\" ] }' || char(10) || 'outputs: [ { file: \"out/{a\" } ]'",
                "2, 'both', 'chain', 'chain: both' || char(10) || 'team: revenue' || char(10) || 'steps: [ { job: tick } ]'",
                "3, 'pair', 'chain', 'chain: pair' || char(10) || 'team: revenue' || char(10) || 'steps: [ { step: first, job: tick }, { step: second, job: tick } ]'"
            }) {
                String[] parts = job.split(", ", 4);
                execute(
                        connection,
                        "insert into job (name, team_id, kind, about, revision, retired) values (" + parts[1] + ", 1, "
                                + parts[2] + ", '', 1, false)");
                execute(
                        connection,
                        "insert into job_revision (job_id, revision, definition, made_by, made_at) values (" + parts[0]
                                + ", 1, " + parts[3] + ", 'mara', now())");
            }
            run(connection, 1001, "1, 'tick', 1, 'task'", "FAILED", "exit code 1", "NO", "null, ''");
            run(connection, 1002, "1, 'tick', 1, 'task'", "RUNNING", "", "NO", "null, ''");
            run(connection, 1003, "2, 'both', 1, 'chain'", "RUNNING", "", "CANCEL", "null, ''");
            run(connection, 1004, "1, 'tick', 1, 'task'", "CANCELLED", "cancelled", "CANCEL", "1003, 'tick'");
            run(connection, 1006, "3, 'pair', 1, 'chain'", "RUNNING", "", "NO", "null, ''");
            run(connection, 1007, "1, 'tick', 1, 'task'", "SUCCEEDED", "exit code 0", "NO", "1006, 'first'");
            run(connection, 1005, "1, 'tick', 1, 'task'", "WAITING", "", "NO", "null, ''");
            for (int id : new int[] {7, 9}) {
                execute(
                        connection,
                        "insert into delivery (id, run_number, team_id, address, subject, body, state, tries, made_at, last_error)"
                                + " values (" + id
                                + ", 1001, 1, 'duty@example.org', 'it failed', 'exit code 1, told as "
                                + id + "', 'SENT', 1, now(), '')");
            }
        }
    }

    /** What the messages of before say now. */
    private static List<String> texts(DataSource data) throws SQLException {
        var texts = new ArrayList<String>();
        try (Connection connection = data.getConnection();
                ResultSet rows = connection
                        .createStatement()
                        .executeQuery("select t.body from delivery d join delivery_text t on t.id = d.text_id"
                                + " where d.address = 'duty@example.org' order by d.id")) {
            while (rows.next()) {
                texts.add(rows.getString(1));
            }
        }
        return texts;
    }

    private static void run(
            Connection connection,
            long number,
            String job,
            String state,
            String message,
            String stopping,
            String parent)
            throws SQLException {
        boolean begun = !state.equals("WAITING");
        boolean ended = begun && !state.equals("RUNNING");
        execute(
                connection,
                "insert into run (number, job_id, job_name, team_id, kind, revision, state, cause, cause_ref, starter,"
                        + " planned_at, zone, queued_at, started_at, finished_at, acts_as, attempt, message, waiting_for,"
                        + " parent, step, parameters, sealed, stopping, stopped_by, taken_by) values (" + number + ", "
                        + job + ", 1, '" + state + "', '" + (parent.startsWith("null") ? "PERSON" : "CHAIN")
                        + "', 'mara.holt', 'mara.holt', now(), 'UTC', now(), " + (begun ? "now()" : "null") + ", "
                        + (ended ? "now()" : "null") + ", 'root', 1, '" + message + "', '', " + parent + ", '', '', '"
                        + stopping + "', '" + (stopping.equals("NO") ? "" : "mara.holt") + "', '')");
    }

    private static void execute(Connection connection, String sql) throws SQLException {
        try (var statement = connection.createStatement()) {
            statement.execute(sql);
        }
    }
}
