package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;

/** Makes two accounts and a rule of sudo(8) for the time of the test. */
@DisplayName("A command that acts as another account of this host")
@EnabledIf("isPossible")
class OtherAccountsTest {

    private static final String SERVES = "gantrel-test-serves";
    private static final String NIGHT = "gantrel-test-night";
    private static final Path RULE = Path.of("/etc/sudoers.d/gantrel-test");

    static boolean isPossible() throws Exception {
        return System.getProperty("user.name").equals("root")
                && Files.exists(Path.of("/usr/bin/sudo"))
                && Files.exists(Path.of("/usr/sbin/useradd"))
                && ends("setpriv", "--reuid=nobody", "--clear-groups", "test", "-r", Shell.ROOT + "/bin/lib.sh") == 0;
    }

    private static int ends(String... command) throws IOException, InterruptedException {
        return new ProcessBuilder(command)
                .redirectErrorStream(true)
                .redirectOutput(ProcessBuilder.Redirect.DISCARD)
                .start()
                .waitFor();
    }

    @BeforeAll
    static void begin() throws Exception {
        // a test that was broken off may have left them
        end();
        assertThat(ends("useradd", "--system", "--user-group", SERVES)).isZero();
        assertThat(ends("useradd", "--system", "--user-group", "--groups", "games", "--home-dir", "/srv", NIGHT))
                .isZero();
        Files.writeString(RULE, SERVES + " ALL=(" + NIGHT + ") NOPASSWD:SETENV: ALL\n");
        assertThat(ends("chmod", "440", RULE.toString())).isZero();
    }

    @AfterAll
    static void end() throws Exception {
        Files.deleteIfExists(RULE);
        for (String account : List.of(SERVES, NIGHT)) {
            ends("pkill", "-KILL", "-u", account);
            ends("userdel", "--force", account);
        }
    }

    private static void keep(Http admin, String account) {
        admin.put(
                        "/api/v1/credentials/" + account,
                        Map.of(
                                "team", "revenue",
                                "kind", "account",
                                "about", "",
                                "facts", Map.of("account", account),
                                "secrets", Map.of()))
                .expect(201);
    }

    @ParameterizedTest(name = "of a service that runs as {0}")
    @ValueSource(strings = {"root", SERVES})
    @DisplayName("has its groups and home, works in its own folder, outlives the service and can be stopped")
    void actsAsAnother(String serves) throws Exception {
        try (Service service = Service.as(serves)) {
            Http admin = Work.settle(service);
            keep(admin, NIGHT);
            keep(admin, "nobody");
            String go = Files.createTempDirectory("go").resolve("go").toString();
            assertThat(ends("chmod", "755", Path.of(go).getParent().toString())).isZero();
            admin.bringIn(
                            """
                    task: who
                    team: revenue
                    acts-as: %1$s
                    does:
                      shell: "id -un; id -Gn; echo $HOME $DAY; env | grep -c ^GANTREL_ADMIN; touch mine; until [ -e %2$s ]; do sleep 0.1; done; exit 3"
                      environment: { DAY: monday }
                    ---
                    task: long
                    team: revenue
                    acts-as: %1$s
                    does: { shell: "echo begun; sleep 300 & sleep 300" }
                    """
                                    .formatted(NIGHT, go))
                    .expect(200);
            long who = admin.start("who", Map.of());
            long endless = admin.start("long", Map.of());
            String said = NIGHT + "\n" + NIGHT + " games\n/srv monday\n0\n";
            Await.until(
                    "both are under way",
                    () -> log(admin, who).equals(said) && log(admin, endless).equals("begun\n"));
            service.kill();
            service.start();
            Http again = service.admin();
            Files.createFile(Path.of(go));
            assertThat(service.ended(again, who).path("exitCode").asInt()).isEqualTo(3);
            again.post("/api/v1/runs/" + endless + "/cancellation", Map.of()).expect(200);
            JsonNode ended = service.ended(again, endless);
            assertThat(ended.path("state").asString()).isEqualTo("cancelled");
            // one that has ended and waits to be taken note of by whoever adopted it goes on no more
            assertThat(ends("sh", "-c", "ps -u " + NIGHT + " -o stat= | grep -qv Z"))
                    .as("nothing of it goes on")
                    .isEqualTo(1);
            JsonNode test =
                    again.post("/api/v1/credentials/nobody/test", Map.of()).body();
            assertThat(test.path("works").asBoolean()).isEqualTo(serves.equals("root"));
            assertThat(test.toString()).contains(serves.equals("root") ? "commands can run as nobody" : "sudo rule");
        }
    }

    @Test
    @DisplayName("is the one that the service names for jobs that name nobody, unless they are raised")
    void isTheUsualOne() {
        try (Service service = Service.fresh("--run-as", NIGHT)) {
            Http admin = Work.settle(service);
            String who = "team: revenue\ndoes: { shell: \"id -un; touch mine\" }\n";
            admin.bringIn("task: plain\n" + who + "---\ntask: raised\nraised: yes\n" + who)
                    .expect(200);
            JsonNode plain = service.ended(admin, admin.start("plain", Map.of()));
            assertThat(plain.path("actsAs").asString()).isEqualTo(NIGHT);
            assertThat(log(admin, plain.path("number").asLong())).isEqualTo(NIGHT + "\n");
            assertThat(log(
                            admin,
                            service.ended(admin, admin.start("raised", Map.of()))
                                    .path("number")
                                    .asLong()))
                    .isEqualTo("root\n");
        }
        Shell.Result refused = Shell.run(
                Map.of(), "", "gantrel", "serve", "--data", "/tmp/gantrel-never-made", "--run-as", "nobody-here");
        assertThat(refused.expect(2).err()).contains("run-as: this host has no account 'nobody-here'");
        assertThat(Path.of("/tmp/gantrel-never-made")).doesNotExist();
    }

    private static String log(Http admin, long run) {
        return admin.get("/api/v1/runs/" + run + "/log").text();
    }

    @ParameterizedTest(name = "of a service that runs as {0}")
    @ValueSource(strings = {"root", SERVES})
    @DisplayName("takes files from a repository that its account may read, has them for itself, and leaves nothing")
    void takesFiles(String serves) throws Exception {
        var crew = new GitRepository();
        crew.commit(
                "bin/plan.sh",
                "#!/bin/sh\n. ./lib/say.sh\nmkdir made; echo x >made/new; echo y >>lib/say.sh; cd lib && cd .. && ls\n");
        crew.commit("lib/say.sh", "id -un\n");
        assertThat(ends("chown", "-R", NIGHT, crew.folder().toString())).isZero();
        try (Service service = Service.as(serves)) {
            Http admin = Work.settle(service);
            keep(admin, NIGHT);
            keep(admin, "nobody");
            String task =
                    "task: %s\nteam: revenue\nacts-as: %s\ndoes: { command: [ bin/plan.sh ], from: { git: %s } }\n";
            admin.bringIn(task.formatted("plan", NIGHT, crew.folder())).expect(200);
            JsonNode run = service.ended(admin, admin.start("plan", Map.of()));
            assertThat(log(admin, run.path("number").asLong())).contains(NIGHT + "\nbin\nlib\nmade\n");
            assertThat(run.path("state").asString()).isEqualTo("succeeded");
            if (serves.equals("root")) {
                // the folder is its owner's alone
                admin.bringIn(task.formatted("spy", "nobody", crew.folder())).expect(200);
                JsonNode spied = service.ended(admin, admin.start("spy", Map.of()));
                assertThat(spied.path("state").asString()).isEqualTo("failed");
                assertThat(log(admin, spied.path("number").asLong())).doesNotContain("took");
            }
        }
        try (var left = Files.list(Path.of("/tmp"))) {
            assertThat(left.map(path -> path.getFileName().toString())
                            .filter(name -> name.startsWith("gantrel-source-")))
                    .isEmpty();
        }
    }
}
