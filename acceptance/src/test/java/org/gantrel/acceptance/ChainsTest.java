package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.TimeoutError;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.BoundingBox;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.WaitForSelectorState;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("A chain")
class ChainsTest extends OneService {

    private static Browser browser;

    @BeforeAll
    static void begin() {
        browser = new Browser();
        work.program("say.sh", "echo $1 >> said")
                .program("give.sh", "echo gave; printf '{ \"total\": %s }' $1 > \"$GANTREL_RESULT\"")
                .program("mended.sh", "[ -e mended ] || { echo 'the card processor is down'; exit 1; }");
        admin.bringIn(
                        """
                task: say
                team: revenue
                parameters: { what: { type: text } }
                does: { command: [ ./say.sh, "${what}" ], in: %1$s }
                ---
                task: settle
                team: revenue
                parameters: { total: { type: number, default: 12 } }
                does: { command: [ ./give.sh, "${total}" ], in: %1$s }
                gives: { total: number }
                ---
                task: mended
                team: revenue
                does: { command: [ ./mended.sh ], in: %1$s }
                ---
                chain: inner
                team: revenue
                steps: [ { step: deep, job: say, with: { what: deep } } ]
                ---
                chain: night
                team: revenue
                parameters: { total: { type: number, default: 12 } }
                steps:
                  - { step: settle, job: settle, with: { total: "${total}" } }
                  - { step: beside, job: mended, after: [] }
                  - { step: both, job: say, after: [ settle, beside ], with: { what: "both ${settle.values.total}" } }
                  - { step: alarm, job: say, after: beside, on: failure, with: { what: alarm }, matters: no }
                  - { step: rest, pause: 1 s, after: both }
                  - { step: large, job: inner, when: "settle.values.total > 100" }
                  - { step: next, job: inner, go-on: yes, after: rest }
                  - { step: sign, approval: { by: { team: revenue, role: operator }, within: 2 h, asks: "Pay ${settle.values.total}?" }, after: rest }
                finally:
                  - { step: tidy, job: say, with: { what: "tidy ${settle.state}" } }
                """
                                .formatted(work.folder()))
                .expect(200);
    }

    @AfterAll
    static void end() {
        browser.close();
    }

    private static Map<String, String> states(long number) {
        return admin.get("/api/v1/runs/" + number)
                .body()
                .path("steps")
                .valueStream()
                .collect(Collectors.toMap(step -> step.path("step").asString(), step -> step.path("state")
                        .asString()));
    }

    private static void becomes(long number, String step, String state) {
        Await.until(step + " is " + state, () -> state.equals(states(number).get(step)));
    }

    @Test
    @DisplayName("runs side by side, waits for both, goes this way and that, goes on after a repair, and asks")
    void goesItsWay() {
        long number = admin.start("night", Map.of());
        JsonNode failed = service.ended(admin, number);
        assertThat(failed.path("state").asString()).isEqualTo("failed");
        assertThat(states(number))
                .containsEntry("settle", "succeeded")
                .containsEntry("beside", "failed")
                .containsEntry("both", "out-of-reach")
                .containsEntry("alarm", "succeeded")
                .containsEntry("tidy", "succeeded");
        Shell.Result tree = gantrel("run", "show", String.valueOf(number));
        assertThat(tree.expect(0).out())
                .contains("beside", "the card processor is down", "└─ alarm", "at the end, whatever happened");
        Shell.Result wrong = gantrel("run", "repeat", String.valueOf(number), "--from-failed", "-p", "totl=3");
        assertThat(wrong.expect(4).err()).contains("did you mean 'total'?");
        work.write("mended", "");
        gantrel("run", "repeat", String.valueOf(number), "--from-failed", "--note", "the line is up")
                .expect(0);
        becomes(number, "sign", "waiting");
        assertThat(states(number))
                .containsEntry("both", "succeeded")
                .containsEntry("large", "out-of-reach")
                .containsEntry("alarm", "out-of-reach")
                .containsEntry("next", "succeeded");
        assertThat(gantrel("run", "approvals").expect(0).out()).contains("Pay 12?", "operator of revenue");
        gantrel("run", "decide", String.valueOf(number), "sign", "--approve").expect(0);
        JsonNode ended = service.ended(admin, number);
        assertThat(ended.path("state").asString()).as(ended.toString()).isEqualTo("succeeded");
        assertThat(work.read("said").lines())
                .contains("alarm", "tidy succeeded", "both 12", "deep")
                .filteredOn(line -> line.startsWith("both"))
                .hasSize(1);
        assertThat(ended.path("chain").path("round").asInt()).isEqualTo(2);
        assertThat(gantrel("job", "show", "night").expect(0).out())
                .contains("settle", "└─ both", "runs say; after settle and beside on success")
                .contains("waits 1.0 s", "asks an operator of revenue, within 2 h");
    }

    @Test
    @DisplayName("is rehearsed with supposed ends: which steps would run, in which order, and how it would end")
    void isRehearsed() {
        Shell.Result shown = gantrel(
                "job", "rehearse", "night", "--suppose", "beside=failed", "--suppose", "settle.values.total=101");
        assertThat(shown.out()).contains("both does not run: beside failed", "alarm", "failed, step beside failed");
        JsonNode large = admin.post(
                        "/api/v1/jobs/night/rehearsal",
                        Map.of("suppose", Map.of("settle.values.total", "101", "sign", "failed")))
                .expect(200)
                .body();
        assertThat(large.path("course").valueStream().map(step -> step.path("step")
                        .asString()))
                .contains("large")
                .endsWith("tidy");
        assertThat(large.path("ends").path("state").asString()).isEqualTo("failed");
        assertThat(gantrel("job", "rehearse", "night", "--suppose", "besides=failed")
                        .err())
                .contains("did you mean 'beside'?");
        assertThat(gantrel("job", "rehearse", "settle", "--suppose", "x=failed").err())
                .contains("is no chain");
    }

    @Test
    @DisplayName("of fifty steps, killed again and again, runs each step once")
    void outlivesKills() throws Exception {
        String steps = IntStream.range(0, 50)
                .mapToObj(i -> "  - { step: s" + i + ", job: say, with: { what: ledger-" + i + " } }\n")
                .collect(Collectors.joining());
        admin.bringIn("chain: fifty\nteam: revenue\nsteps:\n" + steps).expect(200);
        long number = admin.start("fifty", Map.of());
        for (int i = 0; i < 20 && !isEnded(number); i++) {
            int before = ledger().size();
            Await.until("it goes on", () -> ledger().size() > before || isEnded(number));
            killAndStart();
        }
        JsonNode run = service.ended(admin, number);
        assertThat(run.path("state").asString())
                .as(run.path("message").asString())
                .isEqualTo("succeeded");
        assertThat(ledger())
                .containsExactlyElementsOf(
                        IntStream.range(0, 50).mapToObj(i -> "ledger-" + i).toList());
    }

    private static boolean isEnded(long number) {
        return !admin.get("/api/v1/runs/" + number).body().path("finishedAt").isMissingNode();
    }

    private static List<String> ledger() {
        return work.read("said")
                .lines()
                .filter(line -> line.startsWith("ledger"))
                .toList();
    }

    @Test
    @DisplayName("is drawn and changed in the browser, by mouse and by keyboard, and approved there")
    void isDrawn() {
        admin.bringIn(
                        """
                chain: drawn
                team: revenue
                steps:
                  - { step: one, job: say, with: { what: one } }
                  - { step: two, job: say, after: [], with: { what: two } }
                  - { step: three, job: say, after: [], with: { what: three } }
                """)
                .expect(200);
        Page page = browser.signedIn(service.url(), "/jobs/drawn/edit", 1280, ColorScheme.LIGHT);
        Locator text = page.getByLabel("Definition as YAML");
        assertThat(text).containsText("chain: drawn");
        drag(page, "one", "two");
        assertThat(text).containsText(Pattern.compile("step: two, job: say, after: one"));
        // by keyboard: the step is chosen with Enter, what it follows in a list
        page.locator(".react-flow__node[data-id=three]").focus();
        page.keyboard().press("Enter");
        page.getByLabel("Let it follow").focus();
        page.keyboard().press("Enter");
        page.keyboard().press("ArrowDown");
        page.keyboard().press("Enter");
        assertThat(page.getByLabel("Step three")).containsText("Unlink");
        button(page, "Undo").first().click();
        assertThat(page.getByLabel("Step three")).not().containsText("Unlink");
        button(page, "Redo").click();
        assertThat(page.getByLabel("Step three")).containsText("Unlink");
        button(page, "Save").click();
        Await.until(
                "it is saved",
                () -> admin.get("/api/v1/jobs/drawn").body().path("revision").asInt() == 2);
        JsonNode saved = admin.get("/api/v1/jobs/drawn").body().path("steps");
        assertThat(saved.get(1).path("after").get(0).asString()).isEqualTo("one");
        assertThat(saved.get(2).path("after")).hasSize(1);
        long asks = admin.start("night", Map.of());
        work.write("mended", "");
        becomes(asks, "sign", "waiting");
        page.navigate(service.url() + "/");
        Locator card = page.getByLabel("Asked for approval");
        assertThat(card).containsText("Pay 12?");
        card.getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Approve"))
                .click();
        assertThat(card).isHidden();
        page.navigate(service.url() + "/runs/" + asks);
        assertThat(page.getByText("and succeeded after")).isVisible();
        page.locator(".react-flow__node[data-id=sign]").click();
        assertThat(page.getByLabel("Step sign")).containsText("approved by admin");
        button(page, "Over time").click();
        assertThat(page.getByRole(AriaRole.BUTTON, new Page.GetByRoleOptions().setName("settle, succeeded")))
                .isVisible();
        button(page, "List").click();
        assertThat(page.getByLabel("Steps")).containsText("after settle and beside on success");
        assertThat(browser.complaints()).isEmpty();
    }

    /** Draws a link from dot to dot, and lets go once the line says that it is one. */
    private static void drag(Page page, String from, String to) {
        Await.until("a line is drawn from " + from + " to " + to, () -> isDrawn(page, from, to));
        page.mouse().up();
    }

    private static boolean isDrawn(Page page, String from, String to) {
        // hovers once it stands still and can be grasped
        page.locator(".react-flow__node[data-id=" + from + "] .react-flow__handle.source")
                .hover();
        page.mouse().down();
        BoundingBox end = page.locator(".react-flow__node[data-id=" + to + "] .react-flow__handle.target")
                .boundingBox();
        page.mouse()
                .move(
                        end.x + end.width / 2,
                        end.y + end.height / 2,
                        new com.microsoft.playwright.Mouse.MoveOptions().setSteps(6));
        try {
            page.locator(".react-flow__connection.valid")
                    .waitFor(new Locator.WaitForOptions()
                            .setState(WaitForSelectorState.ATTACHED)
                            .setTimeout(10_000));
            return true;
        } catch (TimeoutError e) {
            page.mouse().up();
            return false;
        }
    }
}
