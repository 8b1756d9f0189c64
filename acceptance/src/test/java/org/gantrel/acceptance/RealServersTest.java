package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.acceptance.Servers.Server;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("With real servers, where this machine has them,")
class RealServersTest extends OneService {

    private static final String SECRET = "tide-and-time-9";

    private static void keep(String name, String kind, Map<String, String> facts, Map<String, String> secrets) {
        admin.put(
                        "/api/v1/credentials/" + name,
                        Map.of("team", "revenue", "kind", kind, "facts", facts, "secrets", secrets))
                .expect(201);
    }

    private static String tested(String name) {
        return admin.post("/api/v1/credentials/" + name + "/test", Map.of())
                .expect(200)
                .body()
                .path("said")
                .asString();
    }

    private static JsonNode run(String name) {
        return service.ended(admin, admin.start(name, Map.of()));
    }

    private static String log(long number) {
        return admin.get("/api/v1/runs/" + number + "/log").text();
    }

    @Test
    @DisplayName(
            "OpenSSH lets a sealed key in; commands there outlive this service, are many, and leave nothing behind")
    void openSsh() throws Exception {
        assumeTrue(Servers.openSsh().isPresent(), "OpenSSH's server is not installed");
        try (Server host = Servers.startOpenSsh(SECRET)) {
            String key = host.text("user") + "\n";
            Map<String, String> facts = host.facts();
            keep("far", "ssh", facts, Map.of("key", key, "passphrase", SECRET));
            assertThat(tested("far")).contains("has the key that is known of it");
            keep("sealed", "ssh", facts, Map.of("key", key, "passphrase", "wrong"));
            assertThat(tested("sealed")).contains("cannot be opened; is the passphrase right?");
            var work = new Work();
            admin.bringIn(
                            """
                            task: far-away
                            team: revenue
                            acts-as: far
                            while-running: 12
                            does:
                              shell: |
                                echo $GANTREL_RUN >>%s/starts
                                echo line 1; until [ -e %s/go ]; do sleep 0.1; done; echo line 2
                                echo a,b >sheet.csv
                            outputs: [ { file: sheet.csv } ]
                            """
                                    .formatted(work.folder(), work.folder()))
                    .expect(200);
            List<Long> numbers = IntStream.range(0, 12)
                    .mapToObj(i -> admin.start("far-away", Map.of()))
                    .toList();
            for (long number : numbers) {
                Await.until("run " + number + " has begun", () -> log(number).contains("line 1"));
            }
            service.kill();
            service.start();
            admin = service.admin();
            work.write("go", "");
            for (long number : numbers) {
                JsonNode run = service.ended(admin, number);
                assertThat(run.path("message").asString()).isEqualTo("exit code 0");
                assertThat(log(number)).isEqualTo("line 1\nline 2\n");
                assertThat(admin.get("/api/v1/runs/" + number + "/outputs").text())
                        .contains("sheet.csv");
            }
            assertThat(work.read("starts").lines().map(Long::valueOf)).containsExactlyInAnyOrderElementsOf(numbers);
            Await.until("their folders there are gone", () -> runFolders(host).isEmpty());
            assertThat(service.said()).doesNotContain(SECRET);
        }
    }

    private static boolean wasLookedAt(String trigger) {
        JsonNode found = admin.get("/api/v1/triggers/" + trigger).body().path("trigger");
        return !found.path("lookedAt").asString("").isEmpty();
    }

    @Test
    @DisplayName("rows that a query did not find before start once each, over a restart too")
    void findsRows() throws Exception {
        assumeTrue(Servers.postgreSql().isPresent(), "PostgreSQL's server is not installed");
        try (Server database = Servers.startPostgreSql(Servers.postgreSql().orElseThrow(), SECRET)) {
            keep(
                    "claims",
                    "database",
                    Map.of("url", "jdbc:postgresql://127.0.0.1:" + database.port() + "/postgres", "user", "settle"),
                    Map.of("password", SECRET));
            var work = new Work().program("note.sh", "echo \"$1 $2\" >>noted");
            admin.bringIn(
                            """
                            task: sql-of-claims
                            team: revenue
                            acts-as: claims
                            parameters: { text: { type: text, default: "none" } }
                            does: { sql: [ "create table if not exists claim (id int primary key, who text)", "insert into claim select * from (values (${text}::int, 'guest')) as v where ${text} <> '0'" ] }
                            ---
                            task: take-claim
                            team: revenue
                            parameters: { id: { type: text }, who: { type: text } }
                            does: { command: [ ./note.sh, "${id}", "${who}" ], in: %s }
                            while-running: 10
                            """
                                    .formatted(work.folder()))
                    .expect(200);
            service.ended(admin, admin.start("sql-of-claims", Map.of("text", "1")));
            admin.bringIn(
                            """
                            task: take-claim
                            team: revenue
                            parameters: { id: { type: text }, who: { type: text } }
                            does: { command: [ ./note.sh, "${id}", "${who}" ], in: %s }
                            while-running: 10
                            triggers:
                              - name: new-claim
                                on: row.found
                                sql: select id, who from claim
                                key: id
                                acts-as: claims
                                look-every: 1 s
                                with: { id: "${event.values.id}", who: "${event.values.who}" }
                            """
                                    .formatted(work.folder()))
                    .expect(200);
            Await.until("the query was asked", () -> wasLookedAt("take-claim/new-claim"));
            service.ended(admin, admin.start("sql-of-claims", Map.of("text", "2")));
            Await.until("the new row has started", () -> work.read("noted").contains("2 guest"));
            service.kill();
            service.start();
            admin = service.admin();
            service.ended(admin, admin.start("sql-of-claims", Map.of("text", "3")));
            Await.until(
                    "the one after the restart too", () -> work.read("noted").contains("3 guest"));
            assertThat(work.read("noted").lines()).containsExactly("2 guest", "3 guest");
        }
    }

    @Test
    @DisplayName(
            "a folder of another host is watched over SSH: each file that comes starts once, what is there already does not")
    void watchesOverSsh() throws Exception {
        assumeTrue(Servers.openSsh().isPresent(), "OpenSSH's server is not installed");
        try (Server host = Servers.startOpenSsh(SECRET)) {
            keep("harbour-host", "ssh", host.facts(), Map.of("key", host.text("user") + "\n", "passphrase", SECRET));
            var work = new Work().program("note.sh", "echo \"$1\" >>noted");
            Path inbox = Files.createDirectory(work.folder().resolve("inbox"));
            Files.writeString(inbox.resolve("old.csv"), "was there");
            admin.bringIn(
                            """
                            task: take-far
                            team: revenue
                            parameters: { file: { type: text } }
                            does: { command: [ ./note.sh, "${file}" ], in: %s }
                            while-running: 10
                            triggers:
                              - name: came
                                on: file.arrived
                                under: %s
                                matching: "*.csv"
                                host: harbour-host
                                settled: 1 s
                                look-every: 1 s
                                with: { file: "${event.name}" }
                            """
                                    .formatted(work.folder(), inbox))
                    .expect(200);
            Await.until("the folder was looked at", () -> wasLookedAt("take-far/came"));
            for (int i = 0; i < 5; i++) {
                Files.writeString(inbox.resolve("new-" + i + ".csv"), "came");
            }
            Files.writeString(inbox.resolve("other.txt"), "not meant");
            Await.until("each has started", () -> work.read("noted").lines().count() >= 5);
            Files.writeString(inbox.resolve("last.csv"), "came");
            Await.until("the last too", () -> work.read("noted").contains("last.csv"));
            assertThat(work.read("noted").lines())
                    .containsExactlyInAnyOrder(
                            "new-0.csv", "new-1.csv", "new-2.csv", "new-3.csv", "new-4.csv", "last.csv");
        }
    }

    private static List<Path> runFolders(Server host) {
        try (Stream<Path> all = Files.walk(host.folder().resolve("state/gantrel"), 2)) {
            return all.filter(each -> each.getFileName().toString().matches("\\d{1,6}"))
                    .toList();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    @Test
    @DisplayName("PostgreSQL takes bind values of every type, keeps a transaction whole, and says what was wrong")
    void postgreSql() throws Exception {
        assumeTrue(Servers.postgreSql().isPresent(), "PostgreSQL's server is not installed");
        try (Server database = Servers.startPostgreSql(Servers.postgreSql().orElseThrow(), SECRET)) {
            Map<String, String> facts =
                    Map.of("url", "jdbc:postgresql://127.0.0.1:" + database.port() + "/postgres", "user", "settle");
            keep("ledger", "database", facts, Map.of("password", SECRET));
            assertThat(tested("ledger")).isEqualTo("the database lets settle (ledger) in");
            keep("locked-out", "database", facts, Map.of("password", "wrong"));
            assertThat(tested("locked-out")).contains("password authentication failed");
            admin.bringIn(
                            """
                            task: fill
                            team: revenue
                            acts-as: ledger
                            parameters:
                              day: { type: date, default: 2026-11-22 }
                              cents: { type: number, default: 1250 }
                              fine: { type: yes-no, default: "yes" }
                            does:
                              sql:
                                - create table sale (sold_on date, route text, cents int, fine boolean, at timestamptz default now())
                                - insert into sale (sold_on, route, cents, fine) values (${day}, 'sound', ${cents}, ${fine})
                                - create table copy (sold_on date, cents int)
                            ---
                            task: copy
                            team: revenue
                            acts-as: ledger
                            parameters: { day: { type: date, default: 2026-11-22 } }
                            does:
                              sql: select sold_on, cents from sale where sold_on = ${day} and fine
                              to-table: { table: copy, mode: slice, slice: sold_on, of: "${day}" }
                            ---
                            task: show
                            team: revenue
                            acts-as: ledger
                            does: { sql: "select sold_on, cents from copy", to-file: copy.csv }
                            ---
                            task: spoil
                            team: revenue
                            acts-as: ledger
                            does: { sql: [ "delete from copy", "insert into copy values ('no day', 1)" ] }
                            """)
                    .expect(200);
            assertThat(run("fill").path("message").asString()).doesNotContain("said");
            run("copy");
            assertThat(run("copy").path("state").asString()).isEqualTo("succeeded");
            JsonNode spoilt = run("spoil");
            assertThat(spoilt.path("state").asString()).isEqualTo("failed");
            assertThat(spoilt.path("message").asString()).contains("invalid input syntax for type date");
            JsonNode shown = run("show");
            assertThat(admin.get("/api/v1/runs/" + shown.path("number").asLong() + "/outputs/file?name=copy.csv")
                            .text()
                            .lines())
                    .containsExactly("sold_on,cents", "2026-11-22,1250");
            isBounded();
            assertThat(run("show").path("state").asString()).isEqualTo("succeeded");
        }
    }

    /** More than the service has memory for: in rows of which few are held at a time, and in one that is refused. */
    private static void isBounded() throws Exception {
        admin.bringIn(
                        """
                        task: wide
                        team: revenue
                        acts-as: ledger
                        parameters: { length: { type: number }, rows: { type: number } }
                        does:
                          sql: select repeat('x', cast(${length} as int)) from generate_series(1, cast(${rows} as int))
                          to-file: wide.csv
                        """)
                .expect(200);
        assertThat(wide(250_000, 2_000).path("state").asString()).isEqualTo("succeeded");
        assertThat(wide(400_000_000, 1).path("message").asString()).contains("maxResultBuffer");
    }

    private static JsonNode wide(int length, int rows) throws Exception {
        Map<String, String> values = Map.of("length", String.valueOf(length), "rows", String.valueOf(rows));
        return service.ended(admin, admin.start("wide", values));
    }
}
