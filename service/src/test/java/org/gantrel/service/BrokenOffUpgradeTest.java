package org.gantrel.service;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.util.Arrays;
import java.util.List;
import org.flywaydb.core.Flyway;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("A migration that broke off")
class BrokenOffUpgradeTest {

    @TempDir
    Path folder;

    private static Flyway flyway(String url, String target) {
        return Flyway.configure()
                .dataSource(url, "gantrel", "")
                .locations("classpath:db/migration")
                .target(target)
                .load();
    }

    @Test
    @DisplayName(
            "between any two statements that move what messages say is done at the next start, and loses none of it")
    void goesOn() throws Exception {
        String script;
        try (var in = getClass().getResourceAsStream("/db/migration/V19__message_texts.sql")) {
            script = new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
        List<String> statements = Arrays.stream(
                        script.replaceAll("(?m)^--.*$", "").split(";"))
                .filter(each -> !each.isBlank())
                .toList();
        for (int done = 0; done <= statements.size(); done++) {
            String url = "jdbc:h2:file:" + folder.resolve("broken" + done);
            flyway(url, "18").migrate();
            try (Connection connection = DriverManager.getConnection(url, "gantrel", "");
                    var statement = connection.createStatement()) {
                statement.execute("insert into team (name, about) values ('revenue', '')");
                statement.execute(
                        "insert into delivery (id, team_id, address, subject, body, html, state, tries, made_at,"
                                + " last_error) values (7, 1, 'duty@example.org', 'it failed', 'exit code 1', '<p>', 'SENT', 1,"
                                + " now(), '')");
                for (String each : statements.subList(0, done)) {
                    statement.execute(each);
                }
            }
            flyway(url, "19").migrate();
            try (Connection connection = DriverManager.getConnection(url, "gantrel", "");
                    var statement = connection.createStatement()) {
                statement.execute("insert into delivery_text (body, html) values ('a new one', '')");
                var rows =
                        statement.executeQuery("select t.body || t.html from delivery d join delivery_text t on t.id ="
                                + " d.text_id where d.id = 7");
                assertThat(rows.next()).as("after %d statements", done).isTrue();
                assertThat(rows.getString(1)).isEqualTo("exit code 1<p>");
            }
        }
    }
}
