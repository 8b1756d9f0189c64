package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.atomic.AtomicInteger;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("Starting on events")
class EventsTest {

    /** Ten thousand take minutes: {@code -Dgantrel.events=10000 -Dgantrel.kills=20} tries them. */
    private static final int CALLS = Integer.getInteger("gantrel.events", 80) / 2;

    private static final int FILES = Integer.getInteger("gantrel.events", 200) / 2;
    private static final int KILLS = Integer.getInteger("gantrel.kills", 3);
    private static final int CALLERS = 4;
    private static final String TOKEN = "four-bells-and-a-foghorn";

    private static Service service;
    private static Http admin;
    private static String token;
    private static Work work;
    private static Browser browser;
    private static Path inbox;

    @BeforeAll
    static void begin() throws Exception {
        service = Service.fresh();
        admin = Work.settle(service);
        token = admin.token();
        work = new Work().program("note.sh", "echo \"$1\" >> noted");
        browser = new Browser();
        inbox = Files.createDirectory(work.folder().resolve("inbox"));
        admin.put(
                        "/api/v1/credentials/till",
                        Map.of(
                                "team",
                                "revenue",
                                "kind",
                                "http-bearer",
                                "facts",
                                Map.of(),
                                "secrets",
                                Map.of("token", TOKEN)))
                .expect(201);
        admin.bringIn(
                        """
                task: till
                team: revenue
                parameters: { what: { type: text, default: none } }
                does: { command: [ ./note.sh, "${what}" ], in: %s }
                while-running: 9
                triggers:
                  - { name: rung, on: call.received, token: till, most-a-minute: 6000, with: { what: "call ${event.values.n}" } }
                  - { name: came, on: file.arrived, under: %s, matching: "*.csv", settled: 1 s, with: { what: "file ${event.stem}" } }
                ---
                task: after
                team: revenue
                does: { command: [ ./note.sh, after ], in: %s }
                triggers: [ { name: then, on: run.ended, of: first, ends: [ succeeded ] } ]
                ---
                task: first
                team: revenue
                does: { command: [ ./note.sh, first ], in: %s }
                ---
                task: copy
                team: revenue
                does: outside
                """
                                .formatted(work.folder(), inbox, work.folder(), work.folder()))
                .expect(200);
        Await.until("it watches", () -> admin.get("/api/v1/triggers/till/came")
                .body()
                .path("trigger")
                .has("lookedAt"));
    }

    @AfterAll
    static void end() {
        browser.close();
        service.close();
    }

    private static Shell.Result gantrel(String... arguments) {
        return service.gantrel(token, arguments);
    }

    private static Map<String, Integer> noted() {
        Map<String, Integer> counts = new HashMap<>();
        work.read("noted").lines().forEach(line -> counts.merge(line, 1, Integer::sum));
        return counts;
    }

    @Test
    @DisplayName(
            "starts once for each call and each file, though the service is killed again and again: the books are the ledgers' own")
    void startsOnce() throws Exception {
        Map<String, Integer> wanted = new HashMap<>();
        for (int i = 0; i < CALLS; i++) {
            wanted.put("call " + i, 1);
        }
        for (int i = 0; i < FILES; i++) {
            wanted.put("file f" + i, 1);
        }
        var next = new AtomicInteger();
        var answered = new AtomicInteger();
        ExecutorService outside = Executors.newFixedThreadPool(CALLERS + 1);
        List<Future<?>> busy = new ArrayList<>();
        busy.add(outside.submit(() -> {
            for (int i = 0; i < FILES; i++) {
                Files.writeString(inbox.resolve("f" + i + ".csv"), "x");
            }
            return null;
        }));
        for (int i = 0; i < CALLERS; i++) {
            busy.add(outside.submit(() -> {
                for (int n = next.getAndIncrement(); n < CALLS; n = next.getAndIncrement()) {
                    // whoever calls does not know whether it was heard, and calls again
                    int number = n;
                    Await.until("call " + n + " is heard", () -> isHeard(number));
                    answered.incrementAndGet();
                }
            }));
        }
        var random = new Random(61);
        for (int kill = 1; kill <= KILLS; kill++) {
            int share = kill * CALLS / (KILLS + 1);
            Await.until("so many calls are answered", () -> answered.get() >= share);
            long moment = System.nanoTime() + random.nextInt(500_000_000);
            Await.until("a moment has come", () -> System.nanoTime() >= moment);
            service.killForAWhile();
            service.start();
        }
        for (Future<?> each : busy) {
            each.get();
        }
        outside.shutdown();
        admin = service.admin();
        for (int share = 1; share <= 10; share++) {
            int most = wanted.size() * share / 10;
            Await.until(
                    most + " have run",
                    () -> noted().keySet().stream().filter(wanted::containsKey).count() >= most);
        }
        assertThat(noted()).containsAllEntriesOf(wanted);
        assertThat(noted().keySet().stream().filter(each -> each.startsWith("call") || each.startsWith("file")))
                .hasSameSizeAs(wanted.keySet());
    }

    private static boolean isHeard(int n) {
        String url = service.url();
        if (url == null) {
            return false;
        }
        try {
            int status = Http.unsigned(url)
                    .with("Authorization", "Bearer " + TOKEN)
                    .with("Idempotency-Key", "call-" + n)
                    .post("/api/v1/calls/till/rung", Map.of("n", n))
                    .status();
            return status == 202 || status == 200;
        } catch (RuntimeException e) {
            return false;
        }
    }

    @Test
    @DisplayName("is looked at, tried and drawn by the command line and in the browser")
    void isLookedAt() {
        long number = admin.start("first", Map.of());
        service.ended(admin, number);
        Await.until(
                "the other follows",
                () -> admin.get("/api/v1/triggers/after/then")
                                .body()
                                .path("firings")
                                .size()
                        > 0);
        assertThat(gantrel("run", "lineage", String.valueOf(number)).out()).contains("after", "its trigger then");
        assertThat(gantrel("event", "list", "--job", "first", "--type", "run.*").out())
                .contains("run.ended", "succeeded");
        assertThat(gantrel("event", "list", "--type", "run.endet").code()).isEqualTo(2);
        assertThat(gantrel("event", "follow", "--from", "0", "--until", "3", "--format", "json")
                        .out()
                        .lines())
                .hasSize(3);
        assertThat(gantrel("event", "types").out()).contains("file.arrived", "call.received");
        assertThat(gantrel("trigger", "list", "--job", "till").out()).contains("*.csv in " + inbox);
        assertThat(gantrel("trigger", "test", "till", "came", "--with", "stem=w48")
                        .out())
                .contains("till would start", "with what = file w48");
        assertThat(gantrel("trigger", "off", "after", "then").code()).isZero();
        assertThat(gantrel("trigger", "show", "after", "then").out()).contains("off     since");
        assertThat(gantrel("trigger", "on", "after", "then").code()).isZero();
        Page page = browser.signedIn(service.url(), "/jobs/till", 1280, ColorScheme.LIGHT);
        assertThat(page.getByText("when another system calls")).isVisible();
        button(page, "Look and try").first().click();
        page.getByLabel("What the event says, as JSON").fill("{\"values\": {\"n\": 5}}");
        button(page, "Try it").click();
        assertThat(page.getByText("with what = call 5")).isVisible();
        page.keyboard().press("Escape");
        page.navigate(service.url() + "/events?type=run.ended&job=first");
        assertThat(page.getByRole(AriaRole.LIST, new Page.GetByRoleOptions().setName("Events")))
                .isVisible();
        page.navigate(service.url() + "/runs/" + number);
        assertThat(page.getByText("What caused what")).isVisible();
        assertThat(browser.complaints()).isEmpty();
    }

    @Test
    @DisplayName("runs a command for an outside job, also while the service is away, and tells of it afterwards")
    void beats() throws Exception {
        assertThat(gantrel("job", "rehearse", "copy").out()).contains("another machine does it");
        Shell.Result good = gantrel("beat", "copy", "--", "sh", "-c", "echo copied; exit 0");
        assertThat(good.code()).isZero();
        assertThat(good.out()).contains("copied");
        assertThat(gantrel("beat", "copy", "--", "sh", "-c", "echo broken; exit 3")
                        .code())
                .isEqualTo(3);
        Await.until("both are told", () -> runs("copy").size() == 2);
        Await.until("both have ended", () -> runs("copy").stream()
                .noneMatch(run -> run.path("state").asString().matches("waiting|running")));
        assertThat(runs("copy")).extracting(run -> run.path("state").asString()).containsExactly("failed", "succeeded");
        assertThat(admin.get("/api/v1/runs/"
                                + runs("copy").get(0).path("number").asLong() + "/log")
                        .text())
                .contains("broken");
        service.kill();
        assertThat(gantrel("beat", "copy", "--", "true").code()).isZero();
        service.start();
        admin = service.admin();
        assertThat(gantrel("beat", "--tell").code()).isZero();
        Await.until(
                "it is told",
                () -> runs("copy").size() == 3
                        && runs("copy").get(0).path("state").asString().equals("succeeded"));
        assertThat(gantrel("beat", "nobody", "--", "true").code()).isZero();
    }

    private static List<JsonNode> runs(String job) {
        var found = new ArrayList<JsonNode>();
        admin.get("/api/v1/runs?job=" + job).body().forEach(found::add);
        return found;
    }
}
