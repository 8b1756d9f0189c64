package org.gantrel.service.start;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.service.TestSettings;
import org.gantrel.service.engine.EnginePulse;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.SmartLifecycle;

@DisplayName("The parts of the service start in the order they say")
class StartOrderTest {

    @Test
    @DisplayName("so none that starts early needs one that starts late, which would be started before it")
    void keepsItsPhases(@TempDir Path folder) throws IOException {
        try (var context = Serve.start(TestSettings.in(folder, 2), Clock.systemUTC())) {
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
    }
}
