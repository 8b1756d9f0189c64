package org.gantrel.client.run;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("What is compared of two runs")
class RunFactsTest {

    private static final JsonMapper JSON = new JsonMapper();
    private static final String RUN =
            """
            { "number": %d, "job": "night", "revision": 3, "state": "%s", "message": "%s", "plannedAt": "2026-11-2%dT02:30:00Z",
              "took": "%s", "parameters": { "route": "sound", "day": "2026-11-2%d" }, "results": { "total": "%s" },
              "steps": [ { "step": "settle", "state": "succeeded", "from": "2026-11-24T02:30:00Z", "until": "2026-11-24T02:3%d:00Z" } ] }""";

    private static RunFacts facts(String why, Object... words) {
        return new RunFacts(JSON.readTree(RUN.formatted(words)), JSON.readTree(why));
    }

    private final RunFacts one = facts("{ \"waits\": [] }", 17, "succeeded", "", 4, "PT1M", 4, "12.5", 1);
    private final RunFacts other = facts(
            "{ \"waits\": [ { \"kind\": \"lane\", \"took\": \"PT20S\" }, { \"kind\": \"lane\", \"took\": \"PT10S\" } ] }",
            42,
            "warned",
            "slow",
            5,
            "PT3M20S",
            5,
            "10",
            3);

    private static List<String> said(List<JsonNode> rows) {
        return rows.stream()
                .map(row -> row.path("what").asString() + "|" + row.path("one").asString() + "|"
                        + row.path("other").asString() + "|" + row.path("by").asString())
                .toList();
    }

    @Test
    @DisplayName("is where they differ, and by how much")
    void differs() {
        assertThat(said(RunFacts.beside(one, other, false)))
                .containsExactly(
                        "state|succeeded|warned|",
                        "message||slow|",
                        "planned|2026-11-24T02:30:00Z|2026-11-25T02:30:00Z|",
                        "took|PT1M|PT3M20S|+2 min 20 s",
                        "value day|2026-11-24|2026-11-25|",
                        "gave total|12.5|10|-2.5",
                        "step settle took|PT1M|PT3M|+2 min",
                        "waited, lane||PT30S|");
        assertThat(said(RunFacts.beside(other, one, false)))
                .contains("took|PT3M20S|PT1M|-2 min 20 s", "waited, lane|PT30S||");
        assertThat(RunFacts.beside(one, one, false)).isEmpty();
    }

    @Test
    @DisplayName("is what is alike too, where that is wanted")
    void isAlike() {
        assertThat(said(RunFacts.beside(one, other, true)))
                .contains(
                        "job|night|night|",
                        "value route|sound|sound|",
                        "revision|3|3|",
                        "step settle|succeeded|succeeded|");
    }
}
