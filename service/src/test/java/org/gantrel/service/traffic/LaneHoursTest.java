package org.gantrel.service.traffic;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.Map;
import org.gantrel.core.run.RunState;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.run.Run;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("How full a lane was")
class LaneHoursTest {

    @Test
    @DisplayName("is told of the tries and not of the waits between them, and what a chain holds counts once")
    void countsWhatWasTaken(@TempDir Path folder) {
        try (var service = LiveService.fresh(folder)) {
            service.define(
                    """
                    lane: pier
                    team: revenue
                    width: 2
                    ---
                    task: lands
                    team: revenue
                    while-running: 2
                    lanes: [ pier ]
                    parameters: { code: { type: number, default: 0 } }
                    retry: { tries: 2, wait: 30 min }
                    does: { shell: "exit ${code}" }
                    ---
                    chain: harbour
                    team: revenue
                    lanes: [ pier ]
                    steps: [ { step: one, job: lands } ]
                    """);
            Run first = service.start("lands", Map.of("code", "1"));
            Await.until(
                    "its next try is waited for",
                    () -> service.found(first.number()).attempt() == 2);
            assertThat(service.ended(service.start("lands")).state()).isEqualTo(RunState.SUCCEEDED);
            assertThat(service.ended(service.start("lands")).state()).isEqualTo(RunState.SUCCEEDED);
            assertThat(service.ended(service.start("harbour")).state()).isEqualTo(RunState.SUCCEEDED);
            var page = service.bean(LaneApi.class).show(LiveService.SERVICE, "pier", 2);
            assertThat(page.getBody().hours().stream().mapToInt(LaneApi.Hour::most))
                    .containsOnly(0, 1)
                    .contains(1);
        }
    }
}
