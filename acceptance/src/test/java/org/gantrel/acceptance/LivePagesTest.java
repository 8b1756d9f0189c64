package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;
import static org.gantrel.acceptance.Browser.heading;
import static org.gantrel.acceptance.Browser.option;

import com.microsoft.playwright.BrowserContext;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.Route;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.WaitUntilState;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A page of the console is live, or says that it is not:")
class LivePagesTest extends ConsolePages {

    private static final int LINES = 500_000;

    @Test
    @DisplayName("ten tabs share one stream, and all of them show what happens")
    void tenTabs() {
        admin.bringIn(work.task("told-to-all", "\"true\"", "")).expect(200);
        Page first = page("/history?job=told-to-all");
        assertThat(first.getByText("No run is like that")).isVisible();
        BrowserContext window = first.context();
        List<Page> tabs = new ArrayList<>(List.of(first));
        for (int i = 1; i < 10; i++) {
            Page tab = window.newPage();
            tab.setDefaultTimeout(Await.PATIENCE.toMillis());
            tab.navigate(service.url() + "/history?job=told-to-all");
            tabs.add(tab);
        }
        service.ended(admin, admin.start("told-to-all", Map.of()));
        for (Page tab : tabs) {
            // only a tab in sight asks; each is brought to the front as somebody would
            tab.bringToFront();
            assertThat(tab.locator(".MuiDataGrid-row")).hasCount(1);
        }
        window.close();
    }

    @Test
    @DisplayName("while the service is away it says since when, keeps what it shows, and comes back by itself")
    void saysWhenItIsNot() throws Exception {
        Page page = page("/jobs");
        assertThat(page.getByRole(AriaRole.GRID)).containsText("settle-tickets");
        assertThat(page.getByText("Not live since")).hasCount(0);
        service.killForAWhile();
        assertThat(page.getByText("Not live since")).isVisible();
        assertThat(page.getByRole(AriaRole.GRID)).containsText("settle-tickets");
        startAgain();
        assertThat(page.getByText("Not live since")).hasCount(0);
        admin.bringIn(work.task("after-the-night", "\"true\"", "")).expect(200);
        assertThat(page.getByRole(AriaRole.GRID)).containsText("after-the-night");
        browser.complaints();
    }

    @Test
    @DisplayName("an answer that is an error page does not take the place of what is shown")
    void errorPagesTakeNoPlace() {
        Page page = page("/jobs");
        assertThat(page.getByRole(AriaRole.GRID)).containsText("settle-tickets");
        page.route(
                Pattern.compile("/api/v1/jobs\\?"),
                route -> route.fulfill(new Route.FulfillOptions()
                        .setStatus(503)
                        .setBody("<html>busy</html>")
                        .setContentType("text/html")));
        admin.bringIn(work.task("meanwhile", "\"true\"", "")).expect(200);
        page.waitForResponse(Pattern.compile("/api/v1/jobs\\?"), () -> page.evaluate("0"));
        assertThat(page.getByRole(AriaRole.GRID)).containsText("settle-tickets");
        page.unroute(Pattern.compile("/api/v1/jobs\\?"));
        assertThat(page.getByRole(AriaRole.GRID)).containsText("meanwhile");
        browser.complaints();
    }

    @Test
    @DisplayName("on a slow line it says that a page, or the console itself, is on its way")
    void slowLines() {
        Page page = page("/jobs");
        List<Route> held = new ArrayList<>();
        page.route(Pattern.compile("/assets/ChangesPage"), held::add);
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Changes"))
                .click();
        Locator progress = page.getByRole(AriaRole.PROGRESSBAR);
        assertThat(progress).hasAccessibleName("The page is on its way");
        held.forEach(Route::resume);
        assertThat(heading(page, "Changes")).isVisible();
        assertThat(progress).hasCount(0);
        held.clear();
        page.unrouteAll();
        page.route(Pattern.compile("/assets/index-.*js"), held::add);
        page.reload(new Page.ReloadOptions().setWaitUntil(WaitUntilState.COMMIT));
        assertThat(page.getByText("Gantrel is loading")).isVisible();
        held.forEach(Route::resume);
        assertThat(heading(page, "Changes")).isVisible();
    }

    @Test
    @DisplayName("a page that is another version than the service asks to be loaded again")
    void asksToBeLoadedAgain() {
        Page page = page("/jobs");
        page.route(
                service.url() + "/",
                route -> route.fulfill(new Route.FulfillOptions()
                        .setContentType("text/html")
                        .setBody("<script type=module src=/assets/index-another0.js></script>")));
        page.navigate(service.url() + "/lanes");
        assertThat(page.getByText("The service is another version than this page."))
                .isVisible();
        assertThat(button(page, "Load again")).isVisible();
    }

    @Test
    @DisplayName("a log of 500,000 lines shows its end at once, is searched in the service, and has links to its lines")
    void longLogs() {
        work.program(
                "talk.sh",
                "awk 'BEGIN { for (i = 1; i <= " + LINES
                        + "; i++) print \"line \" i (i % 100000 == 0 ? \" error\" : \"\") }'");
        admin.bringIn(work.task("talk", "./talk.sh", "")).expect(200);
        long number = admin.start("talk", Map.of());
        service.ended(admin, number);
        Page page = page("/runs/" + number);
        Locator log = page.getByRole(AriaRole.LOG);
        assertThat(log).containsText("line " + LINES);
        assertThat(page.getByText("500,000 lines")).isVisible();
        assertThat((Integer) page.evaluate("document.querySelectorAll('[role=log] [data-index]').length"))
                .isLessThan(200);
        assertThat(button(page, "5 that look like errors")).isVisible();
        button(page, "Next error").click();
        assertThat(log).containsText("line 100000 error");
        button(page, "Next error").click();
        assertThat(log).containsText("line 200000 error");
        page.getByLabel("Search the log").fill("line 77777");
        button(page, "Next hit").click();
        assertThat(log).containsText("line 77777");
        page.navigate(service.url() + "/runs/" + number + "#line-4242");
        assertThat(page.getByRole(AriaRole.LOG)).containsText("line 4242");
        button(page, "To the end").click();
        assertThat(page.getByRole(AriaRole.LOG)).containsText("line " + LINES);
    }

    @Test
    @DisplayName(
            "the palette finds jobs that never ran, calendars, pages and actions, and runs by number where it is one")
    void findsEverything() {
        admin.bringIn("calendar: harbour-feast\nteam: revenue\nabout: Days of the feast\ndays: weekends\n")
                .expect(200);
        admin.bringIn(work.task("feast-lights", "\"true\"", "")).expect(200);
        Page page = page("/jobs");
        assertThat(heading(page, "Jobs")).isVisible();
        page.keyboard().press("Control+k");
        assertThat(page.getByRole(AriaRole.COMBOBOX)).isFocused();
        page.keyboard().type("feast");
        Locator found = page.getByRole(AriaRole.LISTBOX);
        assertThat(found.getByLabel("Jobs")).containsText("feast-lights");
        assertThat(found.getByLabel("Calendars")).containsText("harbour-feast");
        page.keyboard().press("ArrowDown");
        page.keyboard().press("Enter");
        assertThat(heading(page, "harbour-feast")).isVisible();
        page.keyboard().press("/");
        page.keyboard().type("new chain");
        assertThat(option(page, "New chain")).isVisible();
        page.getByRole(AriaRole.COMBOBOX).fill("99999");
        assertThat(page.getByText("Nothing is called that.")).isVisible();
        page.getByRole(AriaRole.COMBOBOX).fill("import");
        option(page, "Import and export").click();
        assertThat(heading(page, "Import and export")).isVisible();
    }

    @Test
    @DisplayName("rows are links: with Ctrl they open in a tab of their own, and back shows what was there")
    void rowsAreLinks() {
        Page page = page("/history?state=failed");
        Locator row = page.locator(".MuiDataGrid-row").first();
        assertThat(row).containsText("failed");
        Page other = page.context().waitForPage(() -> row.getByRole(AriaRole.LINK)
                .first()
                .click(new Locator.ClickOptions()
                        .setModifiers(List.of(com.microsoft.playwright.options.KeyboardModifier.CONTROL))));
        assertThat(other).hasURL(Pattern.compile("/runs/\\d+$"));
        other.close();
        row.getByRole(AriaRole.LINK).first().click();
        assertThat(page).hasURL(Pattern.compile("/runs/\\d+$"));
        page.goBack();
        assertThat(page).hasURL(Pattern.compile("/history\\?state=failed$"));
        assertThat(page.locator(".MuiDataGrid-row").first()).containsText("failed");
    }

    @Test
    @DisplayName("people, their roles and passwords, tokens, files and revisions have pages")
    void hasItsPages() {
        Page page = page("/people");
        button(page, "New person").click();
        Locator dialog = page.getByRole(AriaRole.DIALOG);
        dialog.getByLabel("Name", new Locator.GetByLabelOptions().setExact(true))
                .fill("newcomer");
        dialog.getByLabel("Password").fill("a long enough password");
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.GRID)).containsText("newcomer");
        page.getByLabel("Person", new Page.GetByLabelOptions().setExact(true)).fill("newcomer");
        button(page, "Add").click();
        assertThat(page.getByLabel("Members of revenue")).containsText("newcomer");
        // and what somebody else does there is seen as it happens
        admin.post("/api/v1/people", Map.of("name", "from.afar", "password", "another long password"))
                .expect(201);
        assertThat(page.getByRole(AriaRole.GRID)).containsText("from.afar");
        page.navigate(service.url() + "/me");
        page.getByLabel("What it is for").fill("from the console");
        button(page, "Make a token").click();
        assertThat(page.getByText("Copy it now; it is not shown again")).isVisible();
        page.navigate(service.url() + "/installation");
        assertThat(page.getByLabel("Health")).containsText("0.1.0");
        assertThat(page.getByLabel("Settings in force")).containsText("runs-at-once");
        page.navigate(service.url() + "/files");
        page.getByLabel("Or paste definitions").fill(work.task("from-files", "\"true\"", ""));
        button(page, "Show what would change").click();
        assertThat(page.getByText("1 new, 0 changed, 0 as they are")).isVisible();
        admin.get("/api/v1/jobs/from-files").expect(404);
        button(page, "Bring in").click();
        assertThat(page.getByText("They are brought in.")).isVisible();
        admin.bringIn(work.task("from-files", "\"true\"", "priority: 3")).expect(200);
        page.navigate(service.url() + "/jobs/from-files");
        page.getByText("Revisions").click();
        assertThat(page.getByLabel("Revisions of from-files")).containsText("revision 2 (now)");
        button(page, "Put back").click();
        button(page, "Put it back").click();
        assertThat(page.getByText("task of revenue, revision 3")).isVisible();
        button(page, "Retire").click();
        button(page, "Retire it").click();
        assertThat(heading(page, "Jobs")).isVisible();
    }

    @Test
    @DisplayName("long names, long values and hostile text keep every page within the window")
    void longTexts() {
        String name = "a".repeat(60);
        String value = "\u202Eright to left " + "x".repeat(4_000) + " <script>alert(1)</script> \uD83D\uDEA2";
        admin.bringIn(work.task(
                        name,
                        "./bad.sh",
                        "parameters: { what: { type: text, default: short, about: \"" + HTML.replace("\"", "")
                                + "\" } }"))
                .expect(200);
        long number = admin.start(name, Map.of("what", value));
        service.ended(admin, number);
        for (int width : List.of(1280, 360)) {
            Page page = browser.signedIn(service.url(), "/", width, ColorScheme.LIGHT);
            for (String path : List.of(
                    "/",
                    "/jobs",
                    "/jobs/" + name,
                    "/runs/" + number,
                    "/history",
                    "/jobs/" + name + "/edit",
                    "/ahead",
                    "/people",
                    "/me",
                    "/installation",
                    "/files")) {
                page.navigate(service.url() + path);
                page.locator("main h1").first().waitFor();
                assertThat((Integer) page.evaluate("document.documentElement.scrollWidth"))
                        .as(path + " at " + width)
                        .isLessThanOrEqualTo(width);
            }
        }
    }
}
