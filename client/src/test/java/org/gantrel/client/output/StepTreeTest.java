package org.gantrel.client.output;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayOutputStream;
import java.io.PrintStream;
import java.util.List;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

@DisplayName("The tree of a chain's steps")
class StepTreeTest {

    private static final String STEPS =
            """
            [ { "step": "settle", "kind": "sweep", "after": [], "links": [], "linksInWords": "at once", "does": "runs settle over routes",
                "state": "failed", "message": "row 2 failed", "turn": 1, "run": { "number": 42, "took": "PT11S" } },
              { "step": "report", "kind": "job", "after": [ "settle" ], "links": [ { "after": "settle", "on": "success" } ],
                "linksInWords": "after settle on success", "does": "runs report", "state": "out-of-reach", "message": "settle failed" },
              { "step": "hold", "kind": "job", "after": [ "settle" ], "links": [ { "after": "settle", "on": "failure" } ],
                "linksInWords": "after settle on failure", "does": "runs hold", "state": "succeeded", "message": "exit code 0",
                "turn": 3, "run": { "number": 43, "took": "PT2S" } },
              { "step": "sign", "kind": "approval", "after": [ "report", "hold" ], "links": [ { "after": "report", "on": "success" },
                { "after": "hold", "on": "any" } ], "linksInWords": "after report on success or hold on any", "does": "asks a manager of finance",
                "when": "report.values.total > 3", "state": "pending" },
              { "step": "tidy", "kind": "job", "last": true, "after": [], "links": [], "linksInWords": "at the end", "does": "runs tidy",
                "state": "pending" } ]""";

    private static List<String> lines(String steps) {
        var printer = new Printer(new PrintStream(new ByteArrayOutputStream()), false);
        return new StepTree(new JsonMapper().readTree(steps), printer).lines();
    }

    @Test
    @DisplayName("says of a run what became of each step, and why it waits or does not run")
    void ofARun() {
        assertThat(lines(STEPS))
                .containsExactly(
                        "settle                            failed        run 42  11 s  row 2 failed",
                        "├─ report                         out-of-reach  settle failed",
                        "│  └─ sign                        pending       after report on success or hold on any",
                        "└─ hold                           succeeded     run 43, 3 times  2.0 s",
                        "at the end, whatever happened",
                        "tidy                              pending");
    }

    @Test
    @DisplayName("says of a job what each step does, and what leads to it where the tree does not")
    void ofAJob() {
        assertThat(lines(STEPS.replaceAll("\"state\": \"[a-z-]+\"", "\"matters\": true")))
                .containsExactly(
                        "settle                            runs settle over routes",
                        "├─ report                         runs report",
                        "│  └─ sign                        asks a manager of finance; after report on success or hold on any",
                        "└─ hold                           runs hold; on failure",
                        "at the end, whatever happened",
                        "tidy                              runs tidy");
    }

    @Test
    @DisplayName("comes to an end whatever the service says")
    void comesToAnEnd() {
        assertThat(lines("[]")).isEmpty();
        assertThat(lines("[ { \"step\": \"a\", \"after\": [ \"gone\" ] } ]")).hasSize(1);
        assertThat(lines("[ { \"step\": \"a\", \"after\": [ \"b\" ] }, { \"step\": \"b\", \"after\": [ \"a\" ] } ]"))
                .hasSizeLessThanOrEqualTo(2);
    }
}
