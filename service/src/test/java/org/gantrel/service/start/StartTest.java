package org.gantrel.service.start;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.service.TestSettings;
import org.gantrel.service.engine.EnginePulse;
import org.gantrel.service.settings.Settings;
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
    private static ConfigurableApplicationContext context;

    @BeforeAll
    static void start() throws IOException {
        Settings settings = TestSettings.in(folder, 2);
        left = Files.createDirectories(settings.data().resolve("tmp/along123"));
        Files.writeString(left.resolve("takings.csv"), "of a mail that was being sent\n");
        elsewhere = Files.createDirectories(folder.resolve("elsewhere"));
        Files.writeString(elsewhere.resolve("kept"), "another's\n");
        Files.createSymbolicLink(settings.data().resolve("tmp/link"), elsewhere);
        context = Serve.start(settings, Clock.systemUTC());
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
}
