package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

@DisplayName("The commands for events")
class EventCommandsTest {

    private final Map<String, String> answers = new LinkedHashMap<>();
    private final StubService service = StubService.by(answers);
    private final List<String> asked = service.asked();

    @AfterEach
    void close() {
        service.close();
    }

    @Test
    @DisplayName("list, show and follow the journal")
    void readTheJournal() {
        answers.put(
                "/api/v1/journal/7",
                "{ \"id\": 7, \"type\": \"file.arrived\", \"at\": \"2026-11-26T02:10:00Z\", \"team\": \"timetable\","
                        + " \"about\": { \"path\": \"/srv/a.csv\", \"values\": { \"n\": 1 } } }");
        answers.put(
                "/api/v1/journal/types",
                "[ { \"type\": \"file.gone\", \"about\": \"watch\", \"says\": \"A file went.\", \"fields\": [ { \"name\": \"path\" } ] } ]");
        answers.put(
                "/api/v1/journal",
                "[ { \"id\": 8, \"type\": \"run.ended\", \"at\": \"2026-11-26T02:10:00Z\", \"team\": \"revenue\", \"run\": 4,"
                        + " \"about\": { \"job\": \"settle\", \"state\": \"failed\" } } ]");
        assertThat(service.gantrel("event", "list", "--type", "run.*", "--job", "settle", "--since", "1d"))
                .isZero();
        assertThat(asked.get(0)).contains("type=run.*").contains("job=settle").contains("since=20");
        assertThat(service.gantrel("event", "list")).isZero();
        assertThat(asked.get(1)).doesNotContain("type=").doesNotContain("since=");
        assertThat(service.gantrel("event", "show", "7")).isZero();
        assertThat(service.gantrel("event", "types")).isZero();
        assertThat(service.gantrel("event", "follow", "--from", "7", "--until", "1", "--format", "json"))
                .isZero();
        assertThat(service.gantrel("event", "list", "--since", "yesterdayish")).isEqualTo(2);
    }

    @Test
    @DisplayName("show, switch and try triggers")
    void workWithTriggers(@TempDir Path folder) throws IOException {
        answers.put(
                "/api/v1/triggers/take-in/came/trial",
                "{ \"starts\": false, \"job\": \"take-in\", \"with\": { \"file\": \"a.csv\" }, \"why\": \"too many\","
                        + " \"unknown\": [ \"'nme' is no field\" ] }");
        answers.put(
                "/api/v1/triggers/take-in/came",
                "{ \"trigger\": { \"words\": \"when a file arrived\", \"switchedOn\": false, \"offBy\": \"mara.holt\","
                        + " \"offAt\": \"2026-11-26T02:10:00Z\", \"trouble\": \"there is no folder\" },"
                        + " \"address\": \"http://x/api\", \"firings\": [ { \"at\": \"2026-11-26T02:10:00Z\", \"event\": 5,"
                        + " \"outcome\": \"started\", \"run\": 9 } ] }");
        answers.put(
                "/api/v1/triggers",
                "[ { \"job\": \"take-in\", \"name\": \"came\", \"words\": \"when a file arrived\", \"switchedOn\": true } ]");
        assertThat(service.gantrel("trigger", "list")).isZero();
        assertThat(service.gantrel("trigger", "show", "take-in", "came")).isZero();
        assertThat(service.gantrel("trigger", "off", "take-in", "came")).isZero();
        assertThat(service.gantrel("trigger", "on", "take-in", "came")).isZero();
        Path event = Files.writeString(folder.resolve("event.json"), "{ \"nme\": \"x\", \"size\": 3 }");
        assertThat(service.gantrel(
                        "trigger", "test", "take-in", "came", "--event", event.toString(), "--with", "name=a.csv"))
                .isEqualTo(1);
        assertThat(service.said()).contains("warning: 'nme' is no field");
        assertThat(asked)
                .contains(
                        "PUT /api/v1/triggers/take-in/came/switch {\"on\":false}",
                        "PUT /api/v1/triggers/take-in/came/switch {\"on\":true}",
                        "POST /api/v1/triggers/take-in/came/trial"
                                + " {\"event\":{\"nme\":\"x\",\"size\":3,\"name\":\"a.csv\"}}");
        Files.writeString(event, "[]");
        assertThat(service.gantrel("trigger", "test", "take-in", "came", "--event", event.toString()))
                .isEqualTo(2);
    }

    @Test
    @DisplayName("draw what caused what")
    void drawLineage() {
        answers.put(
                "/api/v1/runs/4/lineage",
                "{ \"kind\": \"event\", \"id\": 3, \"title\": \"file.arrived\", \"how\": \"/srv/a.csv\", \"asked\": false,"
                        + " \"caused\": [ { \"kind\": \"run\", \"id\": 4, \"title\": \"take-in\", \"state\": \"failed\", \"asked\": true,"
                        + " \"caused\": [ { \"kind\": \"message\", \"id\": 1, \"title\": \"desk\", \"state\": \"sent\", \"caused\": [] },"
                        + " { \"kind\": \"run\", \"id\": 0, \"title\": \"rows\", \"more\": 12, \"caused\": [] } ] } ] }");
        assertThat(service.gantrel("run", "lineage", "4")).isZero();
    }

    @Test
    @DisplayName("see to silences, and tell of work that is done here")
    void seeToSilences() {
        answers.put("/api/v1/silences/3", "{ \"job\": \"vault-copy\" }");
        answers.put("/api/v1/silences", "[ { \"id\": 3, \"job\": \"vault-copy\", \"message\": \"silent\" } ]");
        answers.put("/api/v1/outside/vault-copy/", "{ \"run\": 12 }");
        assertThat(service.gantrel("silence", "list")).isZero();
        assertThat(service.gantrel("silence", "take", "3")).isZero();
        assertThat(service.gantrel("silence", "leave", "3")).isZero();
        assertThat(service.gantrel(
                        "beat", "vault-copy", "-p", "day=2026-11-26", "--", "sh", "-c", "echo hello; exit 4"))
                .isEqualTo(4);
        assertThat(service.printed()).contains("hello");
        assertThat(asked)
                .anySatisfy(call -> assertThat(call)
                        .startsWith("POST /api/v1/outside/vault-copy/start {\"values\":{\"day\":\"2026-11-26\"}}"))
                .anySatisfy(call -> assertThat(call)
                        .startsWith("POST /api/v1/outside/vault-copy/end {\"run\":12,\"exitCode\":4")
                        .contains("\"lines\":[\"hello\"]"));
        assertThat(service.gantrel("beat", "vault-copy", "--", "/no/such/program"))
                .isEqualTo(127);
        assertThat(service.gantrel("beat", "vault-copy")).isEqualTo(2);
    }
}
