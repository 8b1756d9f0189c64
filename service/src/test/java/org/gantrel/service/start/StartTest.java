package org.gantrel.service.start;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.SQLException;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import javax.sql.DataSource;
import org.gantrel.service.Await;
import org.gantrel.service.TestSettings;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.durable.Collapse;
import org.gantrel.service.engine.EnginePulse;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.h2.mvstore.DataUtils;
import org.h2.mvstore.MVStoreException;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.SmartLifecycle;

@DisplayName("A start of the service")
class StartTest {

    @TempDir
    static Path folder;

    private static Path left;
    private static Path elsewhere;
    private static Settings settings;
    private static ConfigurableApplicationContext context;
    private static volatile long free = 1 << 30;

    @BeforeAll
    static void start() throws IOException {
        settings = TestSettings.in(folder, 2);
        left = Files.createDirectories(settings.data().resolve("tmp/along123"));
        Files.writeString(left.resolve("takings.csv"), "of a mail that was being sent\n");
        elsewhere = Files.createDirectories(folder.resolve("elsewhere"));
        Files.writeString(elsewhere.resolve("kept"), "another's\n");
        Files.createSymbolicLink(settings.data().resolve("tmp/link"), elsewhere);
        context = Serve.start(settings, Clock.systemUTC(), folder -> free);
    }

    @AfterAll
    static void stop() {
        context.close();
    }

    @Test
    @DisplayName("keeps the order that its parts say: none that starts early needs one that starts late")
    void keepsItsPhases() {
        Map<String, SmartLifecycle> parts = context.getBeansOfType(SmartLifecycle.class);
        assertThat(parts.values()).anyMatch(EnginePulse.class::isInstance);
        List<String> wrong = new ArrayList<>();
        parts.forEach((name, part) -> {
            for (String other : context.getBeanFactory().getDependenciesForBean(name)) {
                if (parts.containsKey(other) && parts.get(other).getPhase() > part.getPhase()) {
                    wrong.add(name + " needs " + other);
                }
            }
        });
        assertThat(wrong).isEmpty();
    }

    @Test
    @DisplayName("removes what one that was killed needed for a moment only, and nothing that a link leads to")
    void leavesNothingBehind() {
        assertThat(left).doesNotExist();
        assertThat(elsewhere.resolve("kept")).exists();
    }

    @Test
    @DisplayName("takes no change while the disk is full, sets nothing aside for that, and goes on when there is room")
    void waitsForRoom() {
        Teams teams = context.getBean(Teams.class);
        EnginePulse engine = context.getBean(EnginePulse.class);
        free = 100_000;
        Await.until("the engine has noticed", () -> engine.fault().startsWith("the disk of the service is full"));
        assertThatThrownBy(() -> teams.create(Caller.service(), "fleet", ""))
                .isInstanceOf(Refusal.class)
                .hasMessageContaining("nothing was changed");
        assertThat(teams.named("fleet")).isEmpty();
        assertThat(context.getBean(SetAside.class).all()).isEmpty();
        free = 1 << 30;
        Await.until("it goes on", () -> engine.fault().isEmpty());
        teams.create(Caller.service(), "fleet", "");
        assertThat(teams.named("fleet")).isPresent();
    }

    @Test
    @DisplayName("is made anew when the database has closed itself, with all that was committed")
    void beginsAnew() throws Exception {
        context.getBean(Teams.class).create(Caller.service(), "harbour", "");
        try (Connection connection = context.getBean(DataSource.class).getConnection()) {
            var session = (SessionLocal) connection.unwrap(JdbcConnection.class).getSession();
            // what H2 does where a write fails
            session.getDatabase()
                    .getStore()
                    .getMvStore()
                    .panic(new MVStoreException(DataUtils.ERROR_WRITING_FAILED, "no room"));
        } catch (MVStoreException | SQLException e) {
            assertThat(e).hasMessageContaining("no room");
        }
        assertThat(CompletableFuture.supplyAsync(context.getBean(Collapse.class)::await)
                        .get(Await.PATIENCE.toMinutes(), TimeUnit.MINUTES))
                .startsWith("no room");
        context.close();
        context = Serve.start(settings, Clock.systemUTC(), folder -> free);
        assertThat(context.getBean(Teams.class).named("harbour")).isPresent();
    }
}
