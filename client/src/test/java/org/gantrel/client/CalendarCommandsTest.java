package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.StubService.Answer;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("The commands for calendars, schedules and the forecast")
class CalendarCommandsTest {

    private static final String TWO_SCHEDULES =
            """
            [ { "job": "settle", "name": "nightly", "team": "revenue", "on": true, "next": [] },
              { "job": "settle", "name": "noon", "team": "revenue", "on": false, "next": [] },
              { "job": "close", "name": "monthly", "team": "finance", "on": true, "next": [] } ]""";

    @TempDir
    private Path folder;

    private final Map<String, String> answers = new HashMap<>();
    private final StubService service = new StubService(path -> Answer.fine(answers.keySet().stream()
            .filter(path::startsWith)
            .findFirst()
            .map(answers::get)
            .orElse("[]")));
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

    @Test
    @DisplayName("switch one schedule, those of a job, of a team, or all that are not so yet")
    void switchMany() {
        answers.put("/api/v1/schedules", TWO_SCHEDULES);
        assertThat(gantrel("schedule", "off", "settle", "nightly")).isZero();
        assertThat(gantrel("schedule", "off", "settle")).isZero();
        assertThat(gantrel("schedule", "off", "--all")).isZero();
        assertThat(gantrel("schedule", "on", "--team", "finance")).isZero();
        assertThat(asked.stream().filter(call -> call.startsWith("PUT")))
                .allMatch(call -> call.startsWith("PUT /api/v1/schedules/switch "))
                .extracting(call ->
                        call.replaceAll("[^a-z]+", " ").split("schedules ")[2].strip())
                .hasSize(3);
        assertThat(said()).contains("there is no schedule to switch on");
        assertThat(gantrel("schedule", "off")).isEqualTo(2);
        assertThat(gantrel("schedule", "off", "settle", "--all")).isEqualTo(2);
    }

    @Test
    @DisplayName("ask for a forecast of so many hours and say when it will be crowded")
    void forecast() {
        answers.put(
                "/api/v1/forecast",
                """
                { "starts": [ { "at": "2026-12-24T01:30:00Z", "job": "settle", "team": "revenue", "schedule": "nightly" } ],
                  "crowded": [ { "from": "2026-12-24T01:30:00Z", "until": "2026-12-24T02:00:00Z", "most": 6, "places": 4 } ] }""");
        assertThat(gantrel("forecast", "--from", "2026-12-24T00:00:00Z", "--hours", "2", "--team", "revenue"))
                .isZero();
        assertThat(asked.get(0))
                .isEqualTo(
                        "GET /api/v1/forecast?from=2026-12-24T00%3A00%3A00Z&until=2026-12-24T02%3A00%3A00Z&team=revenue");
        assertThat(said()).contains("6 runs at once for 4 places");
        assertThat(gantrel("forecast", "--from", "soon")).isEqualTo(2);
    }

    @Test
    @DisplayName("bring an iCalendar file in as a definition, or only show what it would be")
    void importIcs() throws IOException {
        Path file = Files.writeString(folder.resolve("h.ics"), "BEGIN:VCALENDAR");
        answers.put("/api/v1/calendars/from-ics", "{\"definition\":\"calendar: h\\n\"}");
        answers.put("/api/v1/imports", "[ { \"action\": \"create\", \"revision\": 1 } ]");
        assertThat(gantrel("calendar", "import", file.toString(), "--name", "h", "--team", "t", "--dry-run"))
                .isZero();
        assertThat(asked).singleElement().asString().contains("\"text\":\"BEGIN:VCALENDAR\"");
        assertThat(gantrel("calendar", "import", file.toString(), "--name", "h", "--team", "t"))
                .isZero();
        assertThat(asked.get(2)).startsWith("POST /api/v1/imports").contains("calendar: h");
        assertThat(said()).contains("calendar h: create, revision 1");
        assertThat(gantrel("calendar", "import", "none.ics", "--name", "h", "--team", "t"))
                .isEqualTo(2);
    }

    @Test
    @DisplayName("say what a change of a calendar would move")
    void preview() throws IOException {
        Path file = Files.writeString(folder.resolve("c.yaml"), "calendar: c\n");
        answers.put(
                "/api/v1/calendars/preview",
                """
                { "moved": [ { "job": "close", "schedule": "m", "team": "finance", "before": [ "2026-12-24T01:30:00Z" ],
                  "then": [ "2026-12-23T01:30:00Z", "2026-12-22T01:30:00Z" ] } ] }""");
        assertThat(gantrel("calendar", "preview", file.toString())).isZero();
        answers.put("/api/v1/calendars/preview", "{ \"moved\": [] }");
        assertThat(gantrel("calendar", "preview", file.toString())).isZero();
        assertThat(said()).contains("no schedule would move within three months");
    }

    @Test
    @DisplayName("say in an empty list what to do next")
    void emptyLists() {
        assertThat(gantrel("calendar", "list")).isZero();
        assertThat(gantrel("feed", "list")).isZero();
        assertThat(gantrel("schedule", "occurrences", "settle", "nightly", "--limit", "5"))
                .isZero();
        assertThat(said()).contains("'gantrel import' brings one in", "you have no feed", "nothing has come due yet");
        assertThat(asked).contains("GET /api/v1/jobs/settle/schedules/nightly/occurrences?limit=5");
    }

    @Test
    @DisplayName("say how far a forecast goes where it does not go to the end")
    void sayLimits() {
        answers.put(
                "/api/v1/forecast",
                """
                { "cut": true, "playedUntil": "2026-12-01T12:00:00Z", "lanes": [], "crowded": [],
                  "starts": [ { "at": "2026-12-01T14:00:00Z", "job": "close" } ] }""");
        assertThat(gantrel("forecast")).isZero();
        assertThat(said()).contains("more starts come after ", "worked out until ", "nothing were in their way");
    }
}
