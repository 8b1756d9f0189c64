package org.gantrel.acceptance;

import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import com.microsoft.playwright.options.LoadState;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Looks at every page with axe-core, by the rules of WCAG 2.1, levels A and AA. */
@DisplayName("For whoever listens, or uses the keyboard alone,")
class AccessibleTest extends ConsolePages {

    private static final Path AXE = Path.of("../console/node_modules/axe-core/axe.min.js");

    private static final String LOOK =
            """
            async () => {
              const found = await axe.run(document, { runOnly: ['wcag2a', 'wcag2aa', 'wcag21a', 'wcag21aa'] });
              return found.violations.flatMap(rule => rule.nodes.map(node =>
                rule.id + ': ' + node.html.slice(0, 200) + ' ' + node.any.map(check => check.message).join('; ')));
            }
            """;

    private static final List<String> PAGES = List.of(
            "/",
            "/history",
            "/runs/1001",
            "/jobs",
            "/jobs/settle-tickets",
            "/jobs/both",
            "/jobs/bad/edit",
            "/jobs/both/edit",
            "/new-job",
            "/jobs/settle-tickets/schedules/nightly",
            "/schedules",
            "/calendars",
            "/calendars/open-days",
            "/calendars/open-days/edit",
            "/rosters",
            "/rosters/routes",
            "/lanes",
            "/lanes/printer",
            "/holds",
            "/credentials",
            "/faults",
            "/events",
            "/ahead",
            "/files",
            "/notifications",
            "/notifications?view=rules",
            "/notifications?view=mine",
            "/jobs/gated/edit",
            "/changes",
            "/people",
            "/me",
            "/installation",
            "/starters");

    private static final Map<String, Consumer<Page>> DIALOGS = new LinkedHashMap<>();

    static {
        DIALOGS.put("/jobs/settle-tickets", page -> button(page, "Start").click());
        DIALOGS.put("/runs/1001", page -> button(page, "Repeat").click());
        DIALOGS.put("/holds", page -> button(page, "Hold something").click());
        DIALOGS.put("/people", page -> button(page, "New person").click());
        DIALOGS.put("/people?", page -> button(page, "New team").click());
        DIALOGS.put("/people??", page -> button(page, "Folders").click());
        DIALOGS.put("/lanes/printer", page -> button(page, "Close").click());
        DIALOGS.put(
                "/rosters/routes", page -> button(page, "Paste or load rows").click());
        DIALOGS.put("/credentials", page -> button(page, "New credential").click());
        DIALOGS.put(
                "/notifications?view=rules", page -> button(page, "Stand in").click());
        DIALOGS.put("/notifications?view=rules&swap", page -> button(page, "Swap weeks")
                .click());
        DIALOGS.put("/installation", page -> button(page, "Make a new key").click());
        DIALOGS.put("/jobs", page -> page.keyboard().press("Control+k"));
        DIALOGS.put("/history", page -> {
            page.getByRole(AriaRole.HEADING).first().click();
            page.keyboard().press("?");
        });
    }

    @ParameterizedTest(name = "{0} px, {1}")
    @CsvSource({"1280,LIGHT", "1280,DARK", "400,LIGHT", "400,DARK"})
    @DisplayName("every page and dialog keeps the rules")
    void keepsTheRules(int width, ColorScheme colours) throws IOException {
        admin.bringIn(
                        """
                calendar: open-days
                team: revenue
                days: weekdays
                ---
                roster: routes
                team: revenue
                columns: [ route ]
                rows: [ { route: sound }, { route: skarholm } ]
                ---
                lane: printer
                team: revenue
                width: 2
                ---
                duty: desk
                team: revenue
                zone: Europe/Oslo
                from: 2026-11-23
                turns: [ admin ]
                ---
                task: gated
                team: revenue
                does: { command: [ "true" ], from: { git: /srv/git/crew.git } }
                gates: [ { file: /srv/list.csv, settled: 1 min }, { job: bad, since: 12 h } ]
                triggers: [ { name: after, on: run.ended, of: bad, ends: [ failed ] } ]
                expect: { good-within: 26 h }
                """)
                .expect(200);
        String axe = Files.readString(AXE);
        Page page = browser.signedIn(service.url(), "/", width, colours);
        List<String> violations = new ArrayList<>();
        for (String path : PAGES) {
            open(page, path);
            violations.addAll(look(page, axe, path));
        }
        DIALOGS.forEach((path, opening) -> {
            open(page, path);
            opening.accept(page);
            page.getByRole(AriaRole.DIALOG).waitFor();
            violations.addAll(look(page, axe, path + " with its dialog"));
        });
        assertThat(violations).isEmpty();
    }

    private static void open(Page page, String path) {
        page.navigate(service.url() + path);
        page.locator("main h1, main h2").first().waitFor();
        page.waitForLoadState(LoadState.LOAD);
        Await.until("the page is there", () ->
                (Boolean) page.evaluate("!document.querySelector('[aria-busy=true], .MuiSkeleton-root')"));
    }

    @SuppressWarnings("unchecked")
    private static List<String> look(Page page, String axe, String where) {
        page.evaluate(axe);
        // colours that are still changing into each other are nobody's contrast
        Await.until("nothing moves", () -> (Boolean) page.evaluate("document.getAnimations().every(each =>"
                + " each.playState !== 'running' || each.effect?.getTiming().iterations === Infinity)"));
        return ((List<String>) page.evaluate(LOOK))
                .stream().map(each -> where + " " + each).toList();
    }

    @Test
    @DisplayName("arrows lead over the days of a calendar")
    void arrowsOverDays() {
        admin.bringIn("calendar: by-arrows\nteam: revenue\ndays: weekdays\n").expect(200);
        Page page = page("/calendars/by-arrows/edit?year=2027");
        page.getByLabel("2027-03-03").focus();
        for (String key : List.of("ArrowRight", "ArrowDown", "ArrowLeft", "ArrowDown", "ArrowUp")) {
            page.keyboard().press(key);
        }
        assertThat(page.evaluate("document.activeElement.dataset.date")).isEqualTo("2027-03-10");
    }

    @Test
    @DisplayName("the first key leads past the menu, and another page takes the focus to its beginning")
    void leadsPastTheMenu() {
        Page page = page("/jobs");
        page.getByRole(AriaRole.GRID).waitFor();
        page.keyboard().press("Tab");
        assertThat(page.evaluate("document.activeElement.textContent")).isEqualTo("Skip to the page");
        page.keyboard().press("Enter");
        assertThat(page.evaluate("document.activeElement.id")).isEqualTo("main");
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("History"))
                .click();
        Browser.heading(page, "What happened").waitFor();
        Await.until("the focus is at the beginning of the page", () -> page.evaluate("document.activeElement.id")
                .equals("main"));
    }
}
