package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("Two runs side by side")
class RunCompareTest {

    private final Map<String, String> answers = new LinkedHashMap<>();
    private final StubService service = StubService.by(answers);

    @AfterEach
    void close() {
        service.close();
    }

    @Test
    @DisplayName("are asked for in the order in which they are named; one alone with that which the service finds")
    void asks() {
        answers.put(
                "/api/v1/runs/42/comparison",
                """
                { "one": { "number": 17 }, "other": { "number": 42 }, "facts": [
                  { "what": "state", "kind": "text", "one": "failed", "other": "failed", "by": "", "alike": true } ] }""");
        assertThat(service.gantrel("run", "compare", "42", "--all", "--format", "csv"))
                .isZero();
        assertThat(service.said()).isEmpty();
        assertThat(service.gantrel("run", "compare", "17", "42")).isZero();
        assertThat(service.said()).contains("run 17 and run 42 are alike in all that is compared");
        assertThat(service.asked())
                .containsExactly("GET /api/v1/runs/42/comparison", "GET /api/v1/runs/42/comparison?with=17");
    }
}
