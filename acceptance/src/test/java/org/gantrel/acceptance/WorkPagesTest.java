package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;
import static org.gantrel.acceptance.Browser.exactly;
import static org.gantrel.acceptance.Browser.heading;
import static org.gantrel.acceptance.Browser.option;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The console, where work is prepared,")
class WorkPagesTest extends ConsolePages {

    private static final TcpDatabases DATABASES = new TcpDatabases();

    @AfterAll
    static void shutDatabases() {
        DATABASES.close();
    }

    @Test
    @DisplayName("rehearses a start in its dialogue, and says what would go wrong")
    void rehearses() {
        Page page = page("/jobs/settle-tickets");
        button(page, "Start").click();
        button(page, "Rehearse").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("no value is given");
        page.getByRole(AriaRole.COMBOBOX).first().click();
        option(page, "sound").click();
        button(page, "Rehearse").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("Nothing was found that would go wrong");
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("./settle.sh");
    }

    @Test
    @DisplayName("keeps a credential, tests it, and never shows what is secret of it")
    void keepsACredential() {
        Page page = page("/credentials");
        assertThat(page.getByText("There is no credential that you may know of"))
                .isVisible();
        button(page, "New credential").click();
        exactly(page, "name").fill("tickets");
        String url = DATABASES.url("console");
        exactly(page, "url").fill(url);
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("is missing");
        exactly(page, "password").fill("hush-hush");
        exactly(page, "user").fill("sa");
        button(page, "Save").click();
        Locator card = exactly(page, "tickets");
        assertThat(card).containsText(url);
        card.getByText("Test").click();
        assertThat(card).containsText("It works: the database lets sa (tickets) in");
        card.getByText("Change").click();
        exactly(page, "about").fill("what the kiosks sold");
        exactly(page, "also for the jobs of these teams").fill("no-such-team");
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("there is no team 'no-such-team'");
        exactly(page, "also for the jobs of these teams").fill("");
        button(page, "Save").click();
        assertThat(card).containsText("what the kiosks sold");
        org.assertj.core.api.Assertions.assertThat(page.content()).doesNotContain("hush-hush");
    }

    @Test
    @DisplayName("puts a run beside another of its job, with what differs and what both said")
    void compares() {
        long one = admin.start("settle-tickets", Map.of("route", "skarholm", "day", "2026-01-03"));
        service.ended(admin, one);
        long other = admin.start("settle-tickets", Map.of("route", "skarholm"));
        service.ended(admin, other);
        Page page = page("/runs/" + other);
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Compare"))
                .click();
        assertThat(heading(page, "Run " + one + " beside run " + other)).isVisible();
        Locator table = page.getByRole(AriaRole.TABLE);
        assertThat(table).containsText("value day");
        assertThat(table).not().containsText("exit code");
        page.getByText("also what is alike").click();
        assertThat(table).containsText("exit code");
        button(page, "Show both logs").click();
        assertThat(page.locator("main")).containsText("Both said the same.");
        long bad = admin.start("bad", Map.of());
        service.ended(admin, bad);
        page.navigate(service.url() + "/runs/" + other + "/comparison?with=" + bad);
        button(page, "Show both logs").click();
        assertThat(page.getByLabel("The log of run " + bad)).containsText("card processor refused the login");
        assertThat(page.getByLabel("The log of run " + other)).containsText("settled skarholm");
        page.navigate(service.url() + "/runs/" + other + "/comparison?with=999999");
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("there is no run 999999");
    }

    @Test
    @DisplayName("takes rows from a spreadsheet, runs a job over them, and shows how each row ended")
    void sweeps() {
        admin.bringIn("roster: lines\nteam: revenue\ncolumns: [ route ]\n").expect(200);
        Page page = page("/rosters/lines");
        assertThat(page.getByText("No rows yet")).isVisible();
        button(page, "Paste or load rows").click();
        exactly(page, "Rows").last().fill("rute\tinclude\nskarholm\tyes\n");
        button(page, "Put these rows in").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("did you mean 'route'?");
        exactly(page, "Rows").last().fill("route\tinclude\nskarholm\tyes\nmoon\tyes\nsound\tno\n");
        button(page, "Put these rows in").click();
        assertThat(page.getByRole(AriaRole.GRID)).containsText("never run");
        long number = admin.post("/api/v1/jobs/settle-tickets/runs", Map.of("over", Map.of("roster", "lines")))
                .expect(201)
                .body()
                .path("number")
                .asLong();
        service.ended(admin, number);
        page.navigate(service.url() + "/runs/" + number);
        assertThat(button(page, "1 failed")).isVisible();
        assertThat(button(page, "1 left out")).isVisible();
        assertThat(page.locator("main")).containsText("'moon' is not one of skarholm and sound");
    }

    @Test
    @DisplayName("edits rows in a grid, takes cells from a spreadsheet, and shows a colleague's rows beside mine")
    void editsRows() {
        admin.bringIn("roster: fares\nteam: revenue\ncolumns: [ route, cents ]\nrows:\n"
                        + "  - { route: skarholm, cents: \"1\" }\n  - { route: sound, cents: \"2\" }\n")
                .expect(200);
        Page page = page("/rosters/fares");
        Locator grid = page.getByRole(AriaRole.GRID);
        grid.getByText("skarholm").dblclick();
        page.keyboard().press("Control+A");
        page.keyboard().type("outer");
        page.keyboard().press("Enter");
        button(page, "Add a row").click();
        page.keyboard().type("far");
        page.keyboard().press("Enter");
        button(page, "remove row 2").click();
        assertThat(page.getByText("1 changed, 1 new, 1 to go; not saved yet")).isVisible();
        admin.with("If-Match", "*")
                .patch(
                        "/api/v1/rosters/fares/rows",
                        Map.of("changed", List.of(Map.of("place", 1, "values", Map.of("cents", "7")))))
                .expect(200);
        Locator both = page.getByLabel("Both versions");
        assertThat(both.getByRole(AriaRole.ROW)).hasCount(3);
        assertThat(both).containsText("skarholmskarholmouter");
        assertThat(both).containsText("171");
        assertThat(button(page, "Save rows")).isDisabled();
        button(page, "Mine on top of theirs").click();
        assertThat(both).isHidden();
        admin.with("If-Match", "*")
                .patch(
                        "/api/v1/rosters/fares/rows",
                        Map.of("added", List.of(Map.of("values", Map.of("route", "late")))))
                .expect(200);
        assertThat(page.getByText("Somebody else has saved other rows meanwhile"))
                .isVisible();
        button(page, "Save rows").click();
        assertThat(button(page, "Save rows")).isHidden();
        assertThat(gantrel("roster", "export", "fares").expect(0).out())
                .isEqualToNormalizingNewlines("route,cents,include\nouter,7,yes\nlate,,yes\nfar,,yes\n");
        grid.getByText("far").click();
        page.evaluate(
                "text => { const pasted = new DataTransfer(); pasted.setData('text/plain', text);"
                        + " document.activeElement.dispatchEvent(new ClipboardEvent('paste',"
                        + " { clipboardData: pasted, bubbles: true, cancelable: true })) }",
                "near\t3\nnext\t4\n");
        assertThat(page.getByText("1 changed, 1 new; not saved yet")).isVisible();
        assertThat(grid).containsText("next");
        button(page, "Undo all").click();
        assertThat(grid).not().containsText("next");
    }

    @Test
    @DisplayName("has the fields of each kind of work, and those that few need folded away")
    void showsEachKind() {
        Page page = page("/new-job");
        Locator yaml = page.getByLabel("Definition as YAML");
        kind(page, "an HTTP request");
        page.getByLabel("Headers").fill("Accept: application/json\nDepth: 1");
        choose(page, "Method", "POST");
        page.getByText("More of what it does").click();
        page.getByLabel("Values of the answer").fill("open: /kiosk/open");
        assertThat(yaml)
                .containsText(Pattern.compile(
                        "headers: \\{ Accept: application/json, Depth: 1 }.*method: POST.*take: \\{ open: /kiosk/open }",
                        Pattern.DOTALL));
        kind(page, "SQL in a database");
        page.getByLabel("Statement").fill("delete from day\n;\nselect 1");
        page.getByText("More of what it does").click();
        page.getByLabel("or into the table").fill("day");
        choose(page, "What becomes of its rows", "replace");
        assertThat(yaml)
                .containsText(Pattern.compile(
                        "sql:\\s+- delete from day\\s+- select 1\\s+to-table: \\{ table: day, mode: replace }",
                        Pattern.DOTALL));
        kind(page, "work on files");
        choose(page, "What is done", "compress");
        page.getByText("Outputs").click();
        button(page, "Add an output").click();
        assertThat(yaml).containsText(Pattern.compile("files: compress.*file: out/result.csv", Pattern.DOTALL));
    }

    private static void kind(Page page, String label) {
        choose(page, "What it does", label);
    }

    private static void choose(Page page, String label, String option) {
        page.getByRole(AriaRole.COMBOBOX, new Page.GetByRoleOptions().setName(label))
                .click();
        option(page, option).click();
    }

    @Test
    @DisplayName("supposes another rule for a schedule, says what would be different, and saves nothing")
    void supposes() {
        String schedule = "schedules: [ { name: nightly, when: every day at 01:30, zone: UTC } ]";
        admin.bringIn(work.task("supposed-work", "\"true\"", schedule)).expect(200);
        Page page = page("/ahead?job=supposed-work");
        Locator starts = page.getByRole(AriaRole.GRID);
        assertThat(starts).containsText("01:30");
        button(page, "What if").click();
        choose(page, "Suppose", "a schedule's rule");
        page.getByLabel("Of which job/schedule").fill("supposed-work/nightly");
        page.getByLabel("To be").fill("now and then");
        button(page, "Suppose").click();
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("now and then");
        assertThat(starts).containsText("01:30");
        page.getByLabel("To be").fill("every day at 04:10");
        button(page, "Suppose").click();
        assertThat(page.getByText("supposed-work/nightly is every day at 04:10"))
                .isVisible();
        assertThat(starts).containsText("04:10");
        assertThat(starts).containsText("only then");
        assertThat(starts).not().containsText("01:30");
        page.reload();
        assertThat(starts).containsText("04:10");
        button(page, "As it is").click();
        assertThat(starts).containsText("01:30");
        assertThat(admin.get("/api/v1/jobs/supposed-work").expect(200).text()).contains("every day at 01:30");
    }

    @Test
    @DisplayName("says at the save of a job what would go wrong when it runs")
    void looksAhead() {
        Page page = page("/new-job");
        Locator yaml = page.getByLabel("Definition as YAML");
        Browser.write(yaml, "task: ask-nobody\nteam: revenue\ndoes: { request: \"http://127.0.0.1:1/\" }\n");
        button(page, "Save").click();
        assertThat(heading(page, "ask-nobody")).isVisible();
        assertThat(page.getByRole(AriaRole.NOTE)).containsText("nothing answers at 127.0.0.1:1");
    }

    @Test
    @DisplayName("writes and changes a roster, and forgets that a record was handled")
    void writesARoster() {
        Page page = page("/rosters");
        button(page, "New roster").click();
        Locator yaml = page.getByLabel("Definition as YAML");
        Browser.write(
                yaml,
                "roster: once-only\nteam: revenu\ncolumns: [ route ]\nkey: [ route ]\nrows: [ { route: skarholm } ]\n");
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("there is no team 'revenu'");
        Browser.write(yaml, Browser.linesOf(yaml).replace("revenu\n", "revenue\n"));
        button(page, "Save").click();
        assertThat(heading(page, "once-only")).isVisible();
        assertThat(page.getByText("Nothing is remembered yet")).isVisible();
        button(page, "Edit the definition").click();
        Browser.write(yaml, Browser.linesOf(yaml) + "about: every record once\n");
        button(page, "Save").click();
        assertThat(page.getByText("roster of revenue, revision 2")).isVisible();
        service.ended(
                admin,
                admin.post("/api/v1/jobs/settle-tickets/runs", Map.of("over", Map.of("roster", "once-only")))
                        .expect(201)
                        .body()
                        .path("number")
                        .asLong());
        page.reload();
        button(page, "Forget").click();
        page.getByRole(AriaRole.DIALOG)
                .getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Forget"))
                .click();
        assertThat(page.getByText("Nothing is remembered yet")).isVisible();
    }

    @Test
    @DisplayName("offers starters whose blanks are filled in a form, and brings the definition in")
    void offersStarters() {
        Page page = page("/starters");
        Locator probe = page.getByLabel("probe-an-address");
        probe.getByText("Use").click();
        button(page, "Show the definition").click();
        assertThat(probe).containsText("is missing: the address");
        for (String[] blank : new String[][] {
            {"job", "probe-page"},
            {"team", "revenue"},
            {"address", "http://127.0.0.1:1/"},
            {"contains", "ok"},
            {"mail", "duty@example.org"}
        }) {
            probe.getByLabel(blank[0], new Locator.GetByLabelOptions().setExact(true))
                    .fill(blank[1]);
        }
        button(page, "Show the definition").click();
        assertThat(probe).containsText("task: probe-page");
        button(page, "Bring it in").click();
        assertThat(heading(page, "probe-page")).isVisible();
    }
}
