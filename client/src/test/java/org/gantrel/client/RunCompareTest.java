package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Two runs side by side")
class RunCompareTest {

    private final Map<String, String> answers = new LinkedHashMap<>();
    private final StubService service = StubService.by(answers);

    @BeforeEach
    void answer() {
        answers.put(
                "/api/v1/runs/17", "{ \"number\": 17, \"job\": \"night\", \"plannedAt\": \"2026-11-24T02:30:00Z\" }");
        answers.put(
                "/api/v1/runs/42", "{ \"number\": 42, \"job\": \"night\", \"plannedAt\": \"2026-11-25T02:30:00Z\" }");
        answers.put("/api/v1/runs", "[ { \"number\": 42 }, { \"number\": 17 } ]");
    }

    @AfterEach
    void close() {
        service.close();
    }

    @Test
    @DisplayName("are a run and the good one of its job before it, where one alone is named")
    void withTheOneBefore() {
        assertThat(service.gantrel("run", "compare", "42", "--all", "--format", "csv"))
                .isZero();
        assertThat(service.asked())
                .anySatisfy(call -> assertThat(call).contains("job=night").contains("until=2026-11-25T02"));
        answers.put("/api/v1/runs", "[]");
        assertThat(service.gantrel("run", "compare", "42")).isEqualTo(2);
        assertThat(service.said()).contains("no run of night before run 42 ended well");
        assertThat(service.gantrel("run", "compare", "17", "17")).isZero();
        assertThat(service.said()).contains("are alike in all that is compared");
    }
}
