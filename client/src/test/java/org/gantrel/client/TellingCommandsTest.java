package org.gantrel.client;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The commands for being told")
class TellingCommandsTest {

    private final Map<String, String> answers = new LinkedHashMap<>();
    private final StubService service = StubService.by(answers);
    private final List<String> asked = service.asked();

    @AfterEach
    void close() {
        service.close();
    }

    @Test
    @DisplayName("list faults, see to them, and note")
    void seeToFaults() {
        answers.put(
                "/api/v1/faults/12",
                "{ \"fault\": { \"job\": \"settle\", \"state\": \"failed\", \"badEnds\": 3, \"message\": \"exit code 3\" },"
                        + " \"runs\": [ { \"number\": 41, \"state\": \"failed\", \"message\": \"exit code 3\" } ], \"told\": [],"
                        + " \"notes\": [ { \"person\": \"mara.holt\", \"text\": \"bank is down\" } ] }");
        assertThat(service.gantrel("fault", "list", "--all", "--job", "settle")).isZero();
        assertThat(service.said()).contains("there was no fault yet");
        assertThat(service.gantrel("fault", "show", "12")).isZero();
        assertThat(service.gantrel("fault", "take", "12")).isZero();
        assertThat(service.gantrel("fault", "note", "12", "line is up")).isZero();
        assertThat(service.gantrel("fault", "leave", "12")).isZero();
        assertThat(asked)
                .anySatisfy(call -> assertThat(call).startsWith("GET /api/v1/faults?open=false&job=settle"))
                .contains("PUT /api/v1/faults/12/charge {}", "POST /api/v1/faults/12/notes {\"text\":\"line is up\"}")
                .anySatisfy(call -> assertThat(call).startsWith("DELETE /api/v1/faults/12/charge"));
        assertThat(service.gantrel("fault", "take", "twelve")).isEqualTo(2);
    }

    @Test
    @DisplayName("say who would be told, one line for people where only the happening differs, all for programs")
    void sayWhoIsTold() {
        String line =
                "{ \"what\": \"%s\", \"rule\": \"desk\", \"who\": \"owner\", \"reached\": \"mara.holt\", \"by\": \"mail\","
                        + " \"when\": \"at once\" }";
        answers.put(
                "/api/v1/jobs/settle/told",
                "{ \"lines\": [ " + line.formatted("failed") + ", " + line.formatted("missed")
                        + " ], \"warnings\": [ \"nobody would hear\" ] }");
        assertThat(service.gantrel("job", "told", "settle", "--at", "2026-11-29T03:00:00Z"))
                .isZero();
        assertThat(service.said()).contains("warning: nobody would hear");
        assertThat(service.gantrel("job", "told", "settle", "--format", "json")).isZero();
        assertThat(asked.get(0)).contains("at=2026-11-29T03%3A00%3A00Z");
    }

    @Test
    @DisplayName("keep what is not named of how somebody is told")
    void keepTheRest() {
        answers.put("/api/v1/me/jobs/settle", "{}");
        answers.put(
                "/api/v1/me/telling",
                "{ \"mail\": \"m@example.org\", \"zone\": \"Europe/Oslo\", \"quietFrom\": \"22:00\", \"quietUntil\": \"07:00\","
                        + " \"calendar\": \"\", \"wakes\": \"urgent\", \"jobs\": [ { \"job\": \"a\", \"follows\": false } ] }");
        assertThat(service.gantrel("me", "show")).isZero();
        assertThat(service.gantrel("me", "set", "--quiet", "never")).isZero();
        assertThat(service.gantrel("me", "set", "--quiet", "23:00-06:00", "--mail", ""))
                .isZero();
        assertThat(asked)
                .contains(
                        "PUT /api/v1/me/telling {\"mail\":\"m@example.org\",\"zone\":\"Europe/Oslo\",\"calendar\":\"\","
                                + "\"wakes\":\"urgent\",\"quietFrom\":\"00:00\",\"quietUntil\":\"00:00\"}",
                        "PUT /api/v1/me/telling {\"mail\":\"\",\"zone\":\"Europe/Oslo\",\"calendar\":\"\","
                                + "\"wakes\":\"urgent\",\"quietFrom\":\"23:00\",\"quietUntil\":\"06:00\"}");
        assertThat(service.gantrel("me", "mute", "settle")).isZero();
        assertThat(service.gantrel("me", "follow", "settle", "--until", "2026-12-01T08:00:00Z"))
                .isZero();
        assertThat(asked)
                .contains(
                        "PUT /api/v1/me/jobs/settle {\"follows\":false}",
                        "PUT /api/v1/me/jobs/settle {\"follows\":true,\"until\":\"2026-12-01T08:00:00Z\"}");
    }

    @Test
    @DisplayName("try channels: what is not taken is an exit code of its own, with the other side's words")
    void tryChannels() {
        answers.put(
                "/api/v1/channels/desk/test",
                "{ \"to\": \"https://desk.example.org\", \"taken\": false, \"said\": \"it answered 500: out of order\" }");
        answers.put("/api/v1/channels/mail/test", "{ \"to\": \"m@example.org\", \"taken\": true, \"said\": \"\" }");
        assertThat(service.gantrel("channel", "test", "desk")).isEqualTo(1);
        assertThat(service.said()).contains("not taken by https://desk.example.org: it answered 500: out of order");
        assertThat(service.gantrel("channel", "test", "mail", "--to", "m@example.org"))
                .isZero();
        assertThat(asked).contains("POST /api/v1/channels/mail/test {\"to\":\"m@example.org\"}");
        assertThat(service.gantrel("notification", "list")).isZero();
        assertThat(service.gantrel("duty", "retire", "week")).isZero();
        assertThat(service.gantrel("delivery", "again", "7")).isZero();
        assertThat(service.gantrel("delivery", "give-up", "7")).isZero();
        assertThat(asked)
                .contains("POST /api/v1/deliveries/7/again {}", "POST /api/v1/deliveries/7/give-up {}")
                .anySatisfy(call -> assertThat(call).startsWith("GET /api/v1/tellings?kind=notification"))
                .anySatisfy(call -> assertThat(call).startsWith("DELETE /api/v1/tellings/duty/week"));
    }

    @Test
    @DisplayName("export rules, duty lists, channels and digests with all else, each from its own place")
    void export() {
        answers.put("/api/v1/tellings/duty/week", "{ \"definition\": \"duty: week\\n\" }");
        answers.put("/api/v1/tellings/notification/week", "{ \"definition\": \"notification: week\\n\" }");
        answers.put(
                "/api/v1/tellings",
                "[ { \"kind\": \"duty\", \"name\": \"week\", \"team\": \"revenue\" },"
                        + " { \"kind\": \"notification\", \"name\": \"week\", \"team\": \"revenue\" },"
                        + " { \"kind\": \"digest\", \"name\": \"other\", \"team\": \"fleet\" } ]");
        assertThat(service.gantrel("export", "week")).isZero();
        assertThat(asked)
                .anySatisfy(call -> assertThat(call).startsWith("GET /api/v1/tellings/duty/week"))
                .anySatisfy(call -> assertThat(call).startsWith("GET /api/v1/tellings/notification/week"))
                .noneSatisfy(call -> assertThat(call).contains("digest/other"));
        asked.clear();
        assertThat(service.gantrel("export", "--team", "revenue")).isZero();
        assertThat(asked).noneSatisfy(call -> assertThat(call).contains("digest/other"));
        assertThat(service.gantrel("me", "bell", "--seen")).isZero();
        assertThat(service.gantrel("me", "forget", "settle")).isZero();
        assertThat(service.gantrel("digest", "list")).isZero();
        assertThat(asked)
                .contains("POST /api/v1/me/bell/seen {}")
                .anySatisfy(call -> assertThat(call).startsWith("DELETE /api/v1/me/jobs/settle"))
                .anySatisfy(call -> assertThat(call).startsWith("GET /api/v1/tellings?kind=digest"));
    }
}
