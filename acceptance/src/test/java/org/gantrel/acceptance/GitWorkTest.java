package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.sun.net.httpserver.HttpServer;
import java.io.RandomAccessFile;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import org.gantrel.acceptance.Servers.Server;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("Work taken from version control")
class GitWorkTest extends OneService {

    private static final String PASSWORD = "ebb-and-flow-7";

    private static JsonNode run(String name, Map<String, String> values) {
        return service.ended(admin, admin.start(name, values));
    }

    private static String log(JsonNode run) {
        return admin.get("/api/v1/runs/" + run.path("number").asLong() + "/log").text();
    }

    private static JsonNode rehearsal(String name) {
        return admin.post("/api/v1/jobs/" + name + "/rehearsal", Map.of()).body();
    }

    private static void keep(String name, String kind, Map<String, String> facts, Map<String, String> secrets) {
        admin.put(
                        "/api/v1/credentials/" + name,
                        Map.of("team", "revenue", "kind", kind, "facts", facts, "secrets", secrets))
                .expect(201);
    }

    private static void bringIn(String definitions, Object... words) {
        admin.bringIn(definitions.formatted(words)).expect(200);
    }

    @Test
    @DisplayName(
            "comes from a path, at a branch, a tag or a commit; the commit stands with the run, and nothing is left behind")
    void comesFromAPath() throws Exception {
        var crew = new GitRepository();
        String first = crew.commit(
                "bin/plan.sh",
                "#!/bin/sh\necho one $1 from $(basename \"$PWD\"); echo $GANTREL_COMMIT; echo x >sheet.csv\n");
        crew.git("tag", "-a", "v1", "-m", "first");
        String second =
                crew.commit("bin/plan.sh", "#!/bin/sh\necho two; cat ../weeks/48.txt; ls -l $GANTREL_SOURCE/link\n");
        Files.createSymbolicLink(crew.folder().resolve("link"), Path.of("weeks/48.txt"));
        second = crew.commit("weeks/48.txt", "week 48\n");
        bringIn(
                """
                task: plan
                team: revenue
                parameters: { at: { type: text, default: main } }
                does: { command: [ ./plan.sh, "a b" ], in: bin, from: { git: "%s", at: "${at}" } }
                outputs: [ { file: sheet.csv } ]
                ---
                task: plan-here
                team: revenue
                does: { command: [ bin/plan.sh ], in: %s, from: { git: "%s", at: v1 } }
                """,
                crew.folder(), work.folder(), crew.folder(), crew.folder());
        JsonNode run = run("plan", Map.of());
        assertThat(log(run))
                .contains(
                        "took main of " + crew.folder() + ", commit " + second.substring(0, 10),
                        "two\nweek 48\n",
                        "link -> weeks");
        assertThat(run.path("results").path("commit").asString()).isEqualTo(second);
        for (String at : new String[] {"v1", first, first.substring(0, 8)}) {
            JsonNode old = run("plan", Map.of("at", at));
            assertThat(log(old)).contains("one a b from bin\n" + first + "\n");
            assertThat(old.path("results").path("commit").asString()).isEqualTo(first);
            assertThat(admin.get("/api/v1/runs/" + old.path("number").asLong() + "/outputs")
                            .text())
                    .contains("sheet.csv");
        }
        assertThat(log(run("plan-here", Map.of())))
                .contains("from " + work.folder().getFileName());
        assertThat(work.read("sheet.csv")).isEqualTo("x\n");
        JsonNode missing = run("plan", Map.of("at", "mian"));
        assertThat(missing.path("message").asString())
                .isEqualTo("not started: there is no branch, tag or commit 'mian' in " + crew.folder()
                        + "; did you mean 'main'?");
        try (Stream<Path> all = Files.walk(service.data().resolve("runs"))) {
            assertThat(all.map(path -> path.getFileName().toString())
                            .filter(name -> name.startsWith("source-") && !name.equals("source-at")))
                    .isEmpty();
        }
    }

    @Test
    @DisplayName("is what checks look at, where no link leads out of it")
    void isLookedAt() throws Exception {
        var crew = new GitRepository();
        Files.createSymbolicLink(crew.folder().resolve("link"), Path.of("weeks/48.txt"));
        crew.commit("weeks/48.txt", "week 48\n");
        bringIn(
                """
                task: look
                team: revenue
                does:
                  checks:
                    - { name: week is planned, file: weeks/48.txt, equals: "week 48" }
                    - { name: another is not, file: weeks/49.txt, larger-than: 1B }
                    - { name: no way out, file: link, larger-than: 1B }
                  from: { git: "%s" }
                """,
                crew.folder());
        JsonNode looked = run("look", Map.of());
        assertThat(looked.path("state").asString()).isEqualTo("failed");
        assertThat(log(looked))
                .contains(
                        "passed  week is planned",
                        "FAILED  another is not: there is no file weeks/49.txt",
                        "FAILED  no way out");
    }

    @Test
    @DisplayName("is shown by the rehearsal: the commit, and what its program lacks")
    void isRehearsed() throws Exception {
        var crew = new GitRepository();
        crew.commit("plan.sh", "echo no program\n");
        String commit = crew.commit("bin/count.sh", "#!/bin/sh\n");
        bringIn(
                """
                task: rehearsed
                team: revenue
                does: { command: [ ./plan.sh ], from: { git: "%1$s" } }
                ---
                task: rehearsed-missing
                team: revenue
                does: { command: [ ./bin/cuont.sh ], from: { git: "%1$s" } }
                ---
                task: rehearsed-fine
                team: revenue
                does: { command: [ ./count.sh ], in: bin, from: { git: "%1$s", at: main } }
                """,
                crew.folder());
        assertThat(rehearsal("rehearsed").toString())
                .contains(
                        "commit " + commit.substring(0, 10), "plan.sh is not executable in the repository", "chmod=+x");
        assertThat(rehearsal("rehearsed-missing").toString())
                .contains("the repository has no file bin/cuont.sh; did you mean 'bin/count.sh'?");
        assertThat(rehearsal("rehearsed-fine").toString())
                .contains("bin/count.sh is there")
                .doesNotContain("WRONG");
    }

    @Test
    @DisplayName(
            "comes over HTTP as a credential; where the repository does not answer, the last state or a failure, as chosen")
    void comesOverHttp() throws Exception {
        var crew = new GitRepository();
        String commit = crew.commit("plan.sh", "#!/bin/sh\necho planned\n");
        var asked = new AtomicInteger();
        HttpServer server = crew.serve("planner", PASSWORD, asked);
        String address = "http://127.0.0.1:" + server.getAddress().getPort() + "/crew.git";
        keep("crew-git", "http-basic", Map.of("user", "planner"), Map.of("password", PASSWORD));
        bringIn(
                """
                task: web-plan
                team: revenue
                does: { command: [ ./plan.sh ], from: { git: "%1$s", at: main, credential: crew-git, else: last } }
                ---
                task: web-strict
                team: revenue
                does: { command: [ ./plan.sh ], from: { git: "%1$s", credential: crew-git } }
                ---
                task: web-nobody
                team: revenue
                does: { command: [ ./plan.sh ], from: { git: "%1$s", else: last } }
                """,
                address);
        JsonNode run = run("web-plan", Map.of());
        assertThat(log(run)).contains("planned\n").doesNotContain(PASSWORD);
        assertThat(run.path("results").path("commit").asString()).isEqualTo(commit);
        assertThat(run("web-strict", Map.of()).path("state").asString()).isEqualTo("succeeded");
        assertThat(run("web-nobody", Map.of()).path("message").asString())
                .isEqualTo("not started: 127.0.0.1:" + server.getAddress().getPort() + " lets nobody read " + address
                        + " without a credential");
        server.stop(0);
        JsonNode last = run("web-plan", Map.of());
        assertThat(last.path("results").path("commit").asString()).isEqualTo(commit);
        assertThat(log(last)).contains("nothing answers at 127.0.0.1", "; the state of before is taken\n", "planned\n");
        assertThat(run("web-strict", Map.of()).path("message").asString())
                .startsWith("not started: nothing answers at 127.0.0.1");
        assertThat(service.said()).doesNotContain(PASSWORD);
    }

    @Test
    @DisplayName("costs the service nothing where it takes more memory than it may: its own run says so, others go on")
    void isTooLarge() throws Exception {
        var crew = new GitRepository();
        crew.commit("plan.sh", "#!/bin/sh\necho planned\n");
        // two versions of a large file come as one, and what differs
        try (var file = new RandomAccessFile(crew.folder().resolve("fares.csv").toFile(), "rw")) {
            file.setLength(200_000_000);
            crew.commit("fares.txt", "old\n");
            file.write(1);
            crew.commit("fares.txt", "new\n");
        }
        crew.git("repack", "-adfq");
        HttpServer server = crew.serve("planner", PASSWORD, new AtomicInteger());
        String address = "http://127.0.0.1:" + server.getAddress().getPort() + "/crew.git";
        var small = new GitRepository();
        small.commit("plan.sh", "#!/bin/sh\necho planned\n");
        keep("crew-large", "http-basic", Map.of("user", "planner"), Map.of("password", PASSWORD));
        bringIn(
                """
                task: too-large
                team: revenue
                does: { command: [ ./plan.sh ], from: { git: "%s", credential: crew-large } }
                ---
                task: small-enough
                team: revenue
                does: { command: [ ./plan.sh ], from: { git: "%s" } }
                """,
                address, small.folder());
        assertThat(run("too-large", Map.of()).path("message").asString())
                .isEqualTo("not started: the repository at " + address
                        + " is too large to be taken: it needs more than 256 MB of memory to be put together");
        assertThat(log(run("small-enough", Map.of()))).contains("planned\n");
        server.stop(0);
    }

    @Test
    @DisplayName("comes over SSH, and goes to a command on another host too, which finds it in a folder of its own")
    void comesOverSsh() throws Exception {
        assumeTrue(Servers.openSsh().isPresent(), "OpenSSH's server is not installed");
        var crew = new GitRepository();
        String commit = crew.commit(
                "bin/plan.sh",
                "#!/bin/sh\necho planned in $(basename $PWD) at $GANTREL_COMMIT; cat \"$GANTREL_SOURCE/weeks/48.txt\"; echo a >sheet.csv\n");
        commit = crew.commit("weeks/48.txt", "week 48\n");
        crew.git("config", "--local", "uploadpack.allowAnySHA1InWant", "true");
        try (Server host = Servers.startOpenSsh(PASSWORD)) {
            keep(
                    "crew-host",
                    "ssh",
                    Map.of(
                            "host", "127.0.0.1",
                            "port", String.valueOf(host.port()),
                            "user", System.getProperty("user.name"),
                            "host-key", host.text("host.pub")),
                    Map.of("key", host.text("user") + "\n", "passphrase", PASSWORD));
            String address = "ssh://127.0.0.1:" + host.port() + crew.folder();
            bringIn(
                    """
                    task: ssh-plan
                    team: revenue
                    does: { command: [ bin/plan.sh ], from: { git: "%1$s", credential: crew-host } }
                    ---
                    task: ssh-far
                    team: revenue
                    acts-as: crew-host
                    does: { command: [ ./plan.sh ], in: bin, from: { git: "%1$s", credential: crew-host } }
                    outputs: [ { file: sheet.csv } ]
                    ---
                    task: ssh-far-folder
                    team: revenue
                    acts-as: crew-host
                    does: { command: [ ./bin/plan.sh ], in: %2$s, from: { git: "%3$s" } }
                    """,
                    address, work.folder(), crew.folder());
            for (String name : new String[] {"ssh-plan", "ssh-far", "ssh-far-folder"}) {
                JsonNode run = run(name, Map.of());
                assertThat(log(run)).as(name).contains("at " + commit + "\nweek 48\n");
                assertThat(run.path("results").path("commit").asString()).isEqualTo(commit);
                if (name.equals("ssh-far")) {
                    assertThat(admin.get("/api/v1/runs/" + run.path("number").asLong() + "/outputs")
                                    .text())
                            .contains("sheet.csv");
                }
            }
            assertThat(rehearsal("ssh-far").toString())
                    .contains("commit " + commit.substring(0, 10))
                    .doesNotContain("WRONG");
            saysWhatIsWrong(crew, host);
        }
    }

    private static void saysWhatIsWrong(GitRepository crew, Server host) {
        bringIn(
                "task: ssh-gone\nteam: revenue\ndoes: { command: [ ./a ], from: { git: \"ssh://127.0.0.1:%d/no/such\", credential: crew-host } }\n",
                host.port());
        assertThat(run("ssh-gone", Map.of()).path("message").asString())
                .startsWith("not started: ")
                .contains("/no/such")
                .doesNotContain("Exception");
        bringIn(
                "task: ssh-wrong\nteam: revenue\ndoes: { command: [ ./a ], from: { git: \"ssh://localhost%s\", credential: crew-host } }\n",
                crew.folder());
        assertThat(run("ssh-wrong", Map.of()).path("message").asString()).contains("the credential crew-host is for ");
    }
}
