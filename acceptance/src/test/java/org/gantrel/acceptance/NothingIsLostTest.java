package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;
import static org.gantrel.acceptance.Browser.heading;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Route;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("In the console nothing is lost and nothing happens unseen:")
class NothingIsLostTest extends ConsolePages {

    private static Locator about(Page page) {
        return page.getByLabel("What it is for");
    }

    private static Locator dialog(Page page) {
        return page.getByRole(AriaRole.DIALOG);
    }

    private static Page editing(String job) {
        admin.bringIn(work.task(job, "./bad.sh", "")).expect(200);
        Page page = page("/jobs/" + job + "/edit");
        about(page).fill("mine, not saved");
        return page;
    }

    @Test
    @DisplayName("what is switched together is what is shown, and is switched back exactly")
    void switchesWhatIsShown() {
        String schedules = "schedules: [ { name: %s, when: every day at 20:00, zone: UTC } ]";
        for (String name : List.of("lamp-one", "lamp-two", "lamp-three")) {
            admin.bringIn(work.task(name, "\"true\"", schedules.formatted("dusk")))
                    .expect(200);
        }
        Page page = page("/schedules?q=lamp");
        assertThat(page.locator(".MuiDataGrid-row")).hasCount(3);
        page.getByLabel("Select all rows").check();
        assertThat(button(page, "Switch off 3")).isEnabled();
        page.getByLabel("Words").fill("lamp-two");
        assertThat(page.locator(".MuiDataGrid-row")).hasCount(1);
        button(page, "Switch off 1").click();
        assertThat(page.getByText("Now off: lamp-two / dusk")).isVisible();
        page.getByLabel("Words").fill("lamp");
        assertThat(page.locator(".MuiDataGrid-row").getByText("switched off")).hasCount(1);
        assertThat(page.getByText("2 of 3 are on")).isVisible();
        button(page, "Undo").click();
        assertThat(page.getByText("3 of 3 are on")).isVisible();
    }

    @Test
    @DisplayName("every way out asks while something is unsaved: the back button, a key, the palette, signing out")
    void everyWayAsks() {
        admin.bringIn(work.task("guarded", "./bad.sh", "")).expect(200);
        Page page = page("/jobs/guarded");
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Edit"))
                .click();
        about(page).fill("mine, not saved");
        List<Runnable> ways = List.of(
                () -> page.goBack(),
                () -> {
                    heading(page, "Change guarded").click();
                    page.keyboard().press("h");
                },
                () -> {
                    page.keyboard().press("Control+k");
                    page.keyboard().type("history");
                    page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName("History"))
                            .first()
                            .click();
                },
                () -> page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Sign out"))
                        .click(),
                () -> button(page, "Cancel").click());
        for (Runnable way : ways) {
            way.run();
            assertThat(dialog(page)).containsText("You would lose what you changed in job guarded");
            button(page, "Stay").click();
            assertThat(dialog(page)).hasCount(0);
            assertThat(about(page)).hasValue("mine, not saved");
        }
        button(page, "Cancel").click();
        button(page, "Leave").click();
        assertThat(heading(page, "guarded")).isVisible();
    }

    @Test
    @DisplayName("Esc and a click beside a dialog do not throw away what was typed in it")
    void dialogsAsk() {
        Page page = page("/jobs/settle-tickets");
        button(page, "Start").click();
        dialog(page).getByLabel("day").fill("2026-01-05");
        page.keyboard().press("Escape");
        assertThat(page.getByText("Throw away what you typed?")).isVisible();
        button(page, "Go on typing").click();
        assertThat(dialog(page).getByLabel("day")).hasValue("2026-01-05");
        button(page, "Cancel").click();
        button(page, "Throw away").click();
        assertThat(dialog(page)).hasCount(0);
    }

    @Test
    @DisplayName("a draft stays on the device over a closed tab, and is offered again")
    void draftsAreOffered() {
        Page page = editing("drafted");
        Await.until("the draft is kept", () ->
                (Boolean) page.evaluate("Object.keys(localStorage).some(key => key.endsWith('job drafted'))"));
        page.onDialog(asked -> asked.accept());
        page.reload();
        assertThat(page.getByText("were not saved and are kept on this device")).isVisible();
        button(page, "Go on with them").click();
        assertThat(about(page)).hasValue("mine, not saved");
        button(page, "Save").click();
        assertThat(heading(page, "drafted")).isVisible();
        page.navigate(service.url() + "/jobs/drafted/edit");
        assertThat(about(page)).hasValue("mine, not saved");
        assertThat(page.getByText("kept on this device")).hasCount(0);
    }

    @Test
    @DisplayName("a session that ends asks for the password over the page, and what was under way goes on")
    void sessionsGoOn() {
        admin.bringIn(work.task("lasting", "./bad.sh", "")).expect(200);
        Page page = browser.freshlySignedIn(service.url(), "/jobs/lasting/edit");
        about(page).fill("over the end of a session");
        page.context().clearCookies();
        // the check of what is typed may have met the end of the session already, and the dialog stand over the button
        page.locator("main button", new Page.LocatorOptions().setHasText(Pattern.compile("^Save$")))
                .evaluate("save => save.click()");
        assertThat(dialog(page)).containsText("Your session has ended");
        page.getByLabel("Password").fill("wrong");
        button(page, "Go on").click();
        assertThat(dialog(page)).containsText("the name or the password is wrong");
        page.getByLabel("Password").fill(Service.PASSWORD);
        button(page, "Go on").click();
        assertThat(page.getByText("over the end of a session").first()).isVisible();
        assertThat(page.getByText("task of revenue, revision 2")).isVisible();
        browser.complaints();
    }

    @Test
    @DisplayName("a question that fails while somebody edits takes nothing from them")
    void failedQuestionsLeaveEditors() {
        Page page = editing("shaken");
        List<Integer> answers = new ArrayList<>(List.of(503, 500, 404));
        page.route(Pattern.compile("/api/v1/jobs/shaken$"), route -> {
            int status = answers.isEmpty() ? 503 : answers.remove(0);
            route.fulfill(new Route.FulfillOptions().setStatus(status).setBody("<html>out of order</html>"));
        });
        // somebody else's change makes the page ask again
        admin.bringIn(work.task("shaken", "./bad.sh", "# theirs")).expect(200);
        page.waitForResponse(Pattern.compile("/api/v1/jobs/shaken$"), () -> page.evaluate("0"));
        assertThat(about(page)).hasValue("mine, not saved");
        page.unroute(Pattern.compile("/api/v1/jobs/shaken$"));
        assertThat(button(page, "Mine on top of theirs")).isVisible();
        browser.complaints();
    }

    @Test
    @DisplayName("two people's changes of one job are shown beside each other, brought together, and saved")
    void twoPeople() {
        Page page = editing("shared");
        admin.bringIn(work.task("shared", "./bad.sh", "time-limit: PT9M")).expect(200);
        assertThat(page.getByText("Somebody else has saved this while you were writing."))
                .isVisible();
        assertThat(page.getByLabel("The text before")).containsText("time-limit: PT9M");
        assertThat(page.getByLabel("The text after")).containsText("mine, not saved");
        button(page, "Mine on top of theirs").click();
        assertThat(page.getByText("Somebody else has saved")).hasCount(0);
        button(page, "Save").click();
        assertThat(page.getByText("task of revenue, revision 3")).isVisible();
        String saved =
                admin.get("/api/v1/jobs/shared").body().path("definition").asString();
        assertThat(saved).contains("time-limit: PT9M").contains("mine, not saved");
        // what nobody has touched follows by itself, and is not called unsaved
        Page watching = page("/jobs/shared/edit");
        about(watching).waitFor();
        admin.bringIn(work.task("shared", "./bad.sh", "time-limit: PT8M"), "?overEdits=true")
                .expect(200);
        assertThat(watching.getByLabel("Definition as YAML")).containsText("PT8M");
        assertThat(watching.getByText("not saved yet")).hasCount(0);
    }

    @Test
    @DisplayName("keys belong to whoever types or chooses, not to the page")
    void keysBelongToWhoTypes() {
        admin.bringIn(
                        "roster: keyed\nteam: revenue\ncolumns: [ route ]\nrows: [ { route: sound }, { route: north } ]\n")
                .expect(200);
        Page page = page("/rosters/keyed");
        page.locator(".MuiDataGrid-cell[data-field=route]").first().click();
        page.keyboard().press("h");
        page.keyboard().press("j");
        assertThat(page).hasURL(Pattern.compile("/rosters/keyed$"));
        page.keyboard().press("Escape");
        page.navigate(service.url() + "/history");
        page.getByLabel("State").click();
        page.keyboard().press("t");
        assertThat(page).hasURL(Pattern.compile("/history"));
        page.keyboard().press("Escape");
        page.navigate(service.url() + "/jobs/bad/edit");
        page.getByLabel("Definition as YAML").focus();
        page.keyboard().press("t");
        assertThat(page).hasURL(Pattern.compile("/jobs/bad/edit$"));
    }

    @Test
    @DisplayName("who may not save sees that from the start")
    void readersSeeThat() {
        admin.post("/api/v1/people", Map.of("name", "looker", "fullName", "Lo", "password", Service.PASSWORD))
                .expect(201);
        admin.put("/api/v1/teams/revenue/members/looker", Map.of("role", "viewer"))
                .expect(200);
        Page page = browser.open(service.url(), 1280, ColorScheme.LIGHT);
        page.getByLabel("Name").fill("looker");
        page.getByLabel("Password").fill(Service.PASSWORD);
        button(page, "Sign in").click();
        page.getByRole(AriaRole.NAVIGATION).waitFor();
        page.navigate(service.url() + "/jobs/settle-tickets/edit");
        assertThat(page.getByRole(AriaRole.NOTE)).containsText("changing it is for editors of revenue");
        assertThat(page.getByLabel("Definition as YAML")).containsText("task: settle-tickets");
        assertThat(button(page, "Save")).hasCount(0);
        page.navigate(service.url() + "/jobs/settle-tickets/schedules/nightly");
        assertThat(heading(page, "What became of its starts")).isVisible();
        assertThat(button(page, "Save")).hasCount(0);
    }
}
