package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.StubService.Answer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("The command gantrel")
class CommandLineTest {

    private final Map<String, Answer> answers = new HashMap<>();
    private final StubService service = new StubService(
            path -> answers.getOrDefault(path, new Answer(404, "{\"detail\":\"there is nothing\"}", "")));
    private final List<String> asked = service.asked();

    @AfterEach
    void close() {
        service.close();
    }

    private int gantrel(String... arguments) {
        return service.gantrel(arguments);
    }

    private String said() {
        return service.said();
    }

    @ParameterizedTest(name = "that is answered with {0} exits with {1}")
    @CsvSource({"400, 2", "401, 3", "403, 3", "404, 4", "409, 4", "412, 4", "422, 2", "428, 4", "429, 3", "500, 1"})
    void exitsWith(int status, int code) {
        answers.put("/api/v1/jobs/x", new Answer(status, "{\"detail\":\"it is so\"}", ""));
        assertThat(gantrel("job", "show", "x")).isEqualTo(code);
        assertThat(said()).contains("gantrel: it is so");
    }

    @Test
    @DisplayName("says all problems, each on its line with file, line and column")
    void saysAllProblems() {
        answers.put(
                "/api/v1/jobs/x",
                new Answer(
                        422,
                        """
                        {"detail":"d","problems":[
                          {"file":"a.yaml","field":"team","line":3,"column":7,"message":"is missing"},
                          {"field":"day","message":"'x' is not a date"}]}""",
                        ""));
        assertThat(gantrel("job", "show", "x")).isEqualTo(2);
        assertThat(said().lines())
                .containsExactly("gantrel: a.yaml:3:7: team: is missing", "gantrel: day: 'x' is not a date");
    }

    @Test
    @DisplayName("follows the links of a list until it has what was asked for")
    void followsLinks() {
        String row = "{\"number\":%d,\"state\":\"failed\",\"plannedAt\":\"2026-11-23T06:00:00Z\"}";
        answers.put(
                "/api/v1/runs?limit=3",
                new Answer(
                        200,
                        "[" + row.formatted(9) + "," + row.formatted(8) + "]",
                        "</api/v1/runs?after=8>; rel=\"next\""));
        answers.put("/api/v1/runs?after=8", new Answer(200, "[" + row.formatted(7) + "," + row.formatted(6) + "]", ""));
        assertThat(gantrel("run", "list", "--limit", "3", "--format", "csv")).isZero();
        assertThat(asked).containsExactly("GET /api/v1/runs?limit=3", "GET /api/v1/runs?after=8");
    }

    @Test
    @DisplayName("turns options into filters, encoded as they must be")
    void turnsOptionsIntoFilters() {
        answers.put("/api/v1/runs?q=50%25%20of%20a%26b&limit=50", new Answer(200, "[]", ""));
        assertThat(gantrel("run", "list", "--text", "50% of a&b")).isZero();
        assertThat(said()).contains("no run is like that");
    }

    @Test
    @DisplayName("starts with values, and keeps what stands after the first equals sign as it is")
    void startsWithValues() {
        answers.put("/api/v1/jobs/settle/runs", new Answer(201, "{\"number\":5,\"state\":\"waiting\"}", ""));
        assertThat(gantrel("job", "start", "settle", "-p", "note=a=b", "-p", "empty="))
                .isZero();
        assertThat(asked).singleElement().satisfies(call -> assertThat(call)
                .contains("POST /api/v1/jobs/settle/runs")
                .contains("\"note\":\"a=b\"")
                .contains("\"empty\":\"\""));
        assertThat(gantrel("job", "start", "settle", "-p", "nonsense")).isEqualTo(2);
        assertThat(said()).contains("KEY=VALUE would be right");
    }

    @ParameterizedTest(name = "{0} exits with 2")
    @CsvSource({
        "job",
        "run frobnicate",
        "run show",
        "run show twelve",
        "job list --format xml",
        "token create",
        "nonsense"
    })
    void wrongUsageExitsWithTwo(String line) {
        assertThat(Gantrel.run(line.split(" "))).isEqualTo(2);
        assertThat(said()).isNotBlank();
        assertThat(asked).isEmpty();
    }

    @Test
    @DisplayName("says that what answers is no service of its kind")
    void whatAnswersIsAnother() {
        answers.put("/api/v1/jobs/x", new Answer(200, "<html>", ""));
        assertThat(gantrel("job", "show", "x")).isEqualTo(5);
        assertThat(said()).contains("is not this service");
        assertThat(Gantrel.run("job", "list", "--url", "not an address")).isEqualTo(5);
        assertThat(said()).contains("'not an address' is no address of a service");
    }
}
