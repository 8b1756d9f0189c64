package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("Credentials")
class CredentialTest extends OneService {

    private static final TcpDatabases DATABASES = new TcpDatabases();

    @AfterAll
    static void shutDatabases() {
        DATABASES.close();
    }

    private static final String SECRET = "ebb-and-flow-4711";
    private static final String PATH = "/api/v1/credentials/";

    private static Http manager;
    private static Http editor;

    @BeforeAll
    static void begin() {
        work.program("show.sh", "echo the token is $TOKEN; echo $TOKEN > token.txt");
        admin.post("/api/v1/teams", Map.of("name", "harbour", "about", "Terminals"))
                .expect(201);
        manager = person("mona", "manager");
        editor = person("edda", "editor");
    }

    private static Http person(String name, String role) {
        admin.post("/api/v1/people", Map.of("name", name, "fullName", name, "password", Service.PASSWORD))
                .expect(201);
        admin.put("/api/v1/teams/revenue/members/" + name, Map.of("role", role));
        return service.as(name, Service.PASSWORD);
    }

    private static Map<String, Object> body(String kind, Map<String, String> facts, Map<String, String> secrets) {
        var body = new LinkedHashMap<String, Object>();
        body.put("team", "revenue");
        body.put("kind", kind);
        body.put("about", "for a test");
        body.put("facts", facts);
        body.put("secrets", secrets);
        return body;
    }

    @Test
    @DisplayName("are kept by managers, known to editors, and their secret comes out nowhere")
    void areKeptByManagers() throws IOException {
        Map<String, Object> body = body("secret", Map.of(), Map.of("value", SECRET));
        assertThat(editor.put(PATH + "processor", body).expect(403).detail()).contains("takes the role manager");
        assertThat(manager.put(PATH + "processor", body).expect(201).text()).doesNotContain(SECRET);
        assertThat(editor.get(PATH + "processor").expect(200).text())
                .contains("\"keeps\":[\"value\"]")
                .doesNotContain(SECRET);
        editor.bringIn(work.task("show", "./show.sh", "").replace("], in:", "], secrets: { TOKEN: processor }, in:"))
                .expect(200);
        JsonNode run = service.ended(editor, editor.start("show", Map.of()));
        assertThat(run.path("state").asString()).isEqualTo("succeeded");
        assertThat(work.read("token.txt")).isEqualTo(SECRET + "\n");
        assertThat(editor.get("/api/v1/runs/" + run.path("number").asLong() + "/log")
                        .text())
                .isEqualTo("the token is ••••••\n");
        for (String path : List.of("/api/v1/changes", "/api/v1/runs", "/api/v1/jobs/show", PATH + "processor")) {
            assertThat(admin.get(path).expect(200).text()).as(path).doesNotContain(SECRET);
        }
        assertThat(admin.get("/api/v1/changes").text()).contains("\"deed\":\"used\"", "\"name\":\"processor\"");
        assertThat(service.said()).doesNotContain(SECRET);
        assertThat(filesThatHold(SECRET)).isEmpty();
        assertThat(manager.get(PATH + "processor").body().path("usedBy").toString())
                .isEqualTo("[\"show\"]");
        assertThat(manager.send("DELETE", PATH + "processor", null).expect(409).detail())
                .contains("jobs act as the credential processor: show");
        admin.put(PATH + "rows", body("database", Map.of("url", "jdbc:h2:mem:x"), Map.of("password", "x")))
                .expect(201);
        admin.bringIn("roster: drawn\nteam: revenue\nfrom: { sql: select 1 as n, acts-as: rows }\n")
                .expect(200);
        assertThat(admin.send("DELETE", PATH + "rows", null).expect(409).detail())
                .contains("rosters are drawn with the credential rows: drawn");
        assertThat(admin.get(PATH + "rows").body().path("drawnBy").toString()).isEqualTo("[\"drawn\"]");
    }

    private static List<Path> filesThatHold(String text) throws IOException {
        var found = new ArrayList<Path>();
        try (Stream<Path> files = Files.walk(service.data())) {
            for (Path file : files.filter(Files::isRegularFile).toList()) {
                if (new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1).contains(text)) {
                    found.add(file);
                }
            }
        }
        return found;
    }

    @Test
    @DisplayName("that are wrong say all that is wrong at once; two people do not overwrite each other")
    void sayAllThatIsWrong() {
        assertThat(manager.put(PATH + "wrong", body("database", Map.of("usr", "x"), Map.of("token", "y")))
                        .expect(422)
                        .detail())
                .contains(
                        "has no such fact; it has url, user; did you mean 'user'?",
                        "url",
                        "is missing; a credential of the kind database needs it",
                        "keeps no such secret; it keeps password");
        assertThat(manager.put(PATH + "wrong", body("databas", Map.of(), Map.of()))
                        .expect(422)
                        .detail())
                .contains("'databas' is no kind of credential", "did you mean 'database'?");
        assertThat(manager.put(PATH + "Wrong-Name", body("secret", Map.of(), Map.of("value", "x")))
                        .expect(422)
                        .detail())
                .contains("'Wrong-Name' is no name");
        Map<String, Object> fine = body("http-bearer", Map.of(), Map.of("token", "one"));
        manager.put(PATH + "kiosk", fine).expect(201);
        assertThat(manager.put(PATH + "kiosk", fine).expect(428).detail()).contains("If-Match");
        assertThat(manager.with("If-Match", "\"r9\"")
                        .put(PATH + "kiosk", fine)
                        .expect(412)
                        .detail())
                .contains("was changed meanwhile by mona");
        manager.with("If-Match", "\"r1\"").put(PATH + "kiosk", fine).expect(200);
        assertThat(editor.get(PATH + "kiosc").expect(404).detail()).contains("did you mean 'kiosk'?");
    }

    @Test
    @DisplayName("are really signed in with when they are tested, and take a new secret in place of the old")
    void areTestedAndRotated() {
        String url = DATABASES.url("rotated");
        manager.put(PATH + "db", body("database", Map.of("url", url, "user", "sa"), Map.of("password", "x")))
                .expect(201);
        assertThat(service.gantrel(manager.token(), "credential", "test", "db").code())
                .isZero();
        manager.put(
                        PATH + "far",
                        body(
                                "database",
                                Map.of("url", "jdbc:postgresql://127.0.0.1:1/x", "user", "a"),
                                Map.of("password", "x")))
                .expect(201);
        Shell.Result far = service.gantrel(manager.token(), "credential", "test", "far");
        assertThat(far.code()).isEqualTo(1);
        assertThat(far.out()).startsWith("does not work:").contains("127.0.0.1:1");
        assertThat(editor.post(PATH + "db/rotate", Map.of("secrets", Map.of("password", "new")))
                        .expect(403)
                        .detail())
                .contains("takes the role manager");
        manager.post(PATH + "db/rotate", Map.of("secrets", Map.of("password", "new")))
                .expect(200);
        assertThat(manager.post(PATH + "db/rotate", Map.of("secrets", Map.of()))
                        .expect(422)
                        .detail())
                .contains("is missing");
        assertThat(service.gantrel(admin.token(), "credential", "list")
                        .expect(0)
                        .out())
                .contains("db", "far", "database");
        Map<String, Object> own = body(
                "database",
                Map.of("url", "jdbc:h2:file:" + service.data().resolve("gantrel")),
                Map.of("password", "x"));
        manager.put(PATH + "own", own).expect(201);
        assertThat(manager.post(PATH + "own/test", Map.of())
                        .expect(200)
                        .body()
                        .path("said")
                        .asString())
                .contains("is not allowed");
    }

    @Test
    @DisplayName(
            "that soon expire are warned of; of an account only administrators keep one; keys are rotated by them too")
    void warnAndRestrict() {
        Map<String, Object> soon = body("secret", Map.of(), Map.of("value", "x"));
        soon.put("expiresOn", "2026-01-31");
        assertThat(manager.put(PATH + "soon", soon).expect(201).text()).contains("expired on 2026-01-31");
        assertThat(editor.bringIn(
                                work.task("uses", "./show.sh", "")
                                        .replace("], in:", "], secrets: { TOKEN: soon }, in:"),
                                "?dryRun=true")
                        .expect(200)
                        .text())
                .contains("the credential soon expired on 2026-01-31");
        Map<String, Object> account = body("account", Map.of("account", "root"), Map.of());
        assertThat(manager.put(PATH + "batch", account).expect(403).detail()).contains("takes an administrator");
        admin.put(PATH + "batch", account).expect(201);
        assertThat(manager.post("/api/v1/keys/rotation", Map.of()).expect(403).detail())
                .contains("takes an administrator");
        assertThat(service.gantrel(admin.token(), "credential", "rotate-key")
                        .expect(0)
                        .err())
                .contains("sealed again under a new key");
        Map<String, Object> after = body("http-basic", Map.of("user", "k"), Map.of("password", "p"));
        manager.put(PATH + "after", after).expect(201);
    }
}
