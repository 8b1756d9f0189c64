package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The commands for chains")
class ChainCommandsTest {

    private final Map<String, String> answers = new LinkedHashMap<>();
    private final StubService service = StubService.by(answers);
    private final List<String> asked = service.asked();

    @AfterEach
    void close() {
        service.close();
    }

    @Test
    @DisplayName("go on with a chain from what failed, or from a step, with other values")
    void goOn() {
        answers.put("/api/v1/runs/41/rounds", "{ \"steps\": [], \"round\": 2 }");
        answers.put("/api/v1/runs/41", "{ \"number\": 41, \"job\": \"night\", \"state\": \"running\" }");
        assertThat(service.gantrel("run", "repeat", "41", "--from-failed", "--note", "line is up"))
                .isZero();
        assertThat(asked).contains("POST /api/v1/runs/41/rounds {\"parameters\":{},\"note\":\"line is up\"}");
        assertThat(service.gantrel("run", "repeat", "41", "--from", "report", "-p", "day=2026-11-24"))
                .isZero();
        assertThat(asked)
                .contains("POST /api/v1/runs/41/rounds {\"parameters\":{\"day\":\"2026-11-24\"},\"from\":\"report\"}");
        int before = asked.size();
        assertThat(service.gantrel("run", "repeat", "41", "--from-failed", "--from", "report"))
                .isEqualTo(2);
        assertThat(service.gantrel("run", "repeat", "41", "--failed-rows", "--from", "report"))
                .isEqualTo(2);
        assertThat(service.gantrel("run", "repeat", "41", "-p", "day=1")).isEqualTo(2);
        assertThat(service.said()).contains("one of them, or none", "a repeat has the run's own values");
        assertThat(asked).hasSize(before);
    }

    @Test
    @DisplayName("skip a step, decide, hold and let go")
    void stepIn() {
        answers.put("/api/v1/runs/41/", "{ \"steps\": [], \"round\": 1 }");
        assertThat(service.gantrel("run", "skip-step", "41", "report", "--note", "by hand"))
                .isZero();
        assertThat(service.gantrel("run", "decide", "41", "sign", "--approve")).isZero();
        assertThat(service.gantrel("run", "decide", "41", "sign", "--refuse", "--note", "no"))
                .isZero();
        assertThat(service.gantrel("run", "decide", "41", "sign")).isEqualTo(2);
        assertThat(service.gantrel("run", "decide", "41", "sign", "--approve", "--refuse"))
                .isEqualTo(2);
        assertThat(service.gantrel("run", "hold", "41", "--note", "bank")).isZero();
        assertThat(service.gantrel("run", "let-go", "41")).isZero();
        assertThat(asked)
                .containsExactly(
                        "POST /api/v1/runs/41/steps/report/skip {\"note\":\"by hand\"}",
                        "POST /api/v1/runs/41/steps/sign/decision {\"approve\":true}",
                        "POST /api/v1/runs/41/steps/sign/decision {\"note\":\"no\",\"approve\":false}",
                        "PUT /api/v1/runs/41/hold {\"note\":\"bank\"}",
                        "DELETE /api/v1/runs/41/hold");
    }

    @Test
    @DisplayName("list what is asked; nothing asked is a sentence on the error stream")
    void listApprovals() {
        assertThat(service.gantrel("run", "approvals")).isZero();
        assertThat(service.said()).contains("no chain asks anything");
        assertThat(asked).containsExactly("GET /api/v1/approvals");
    }
}
