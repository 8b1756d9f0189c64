package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;
import static org.gantrel.acceptance.Browser.heading;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The console")
class ConsoleTest {

    private static final String HTML = "<img src=x onerror=document.title=1>";

    private static Service service;
    private static Http admin;
    private static Work work;
    private static Browser browser;

    @BeforeAll
    static void begin() {
        service = Service.fresh();
        browser = new Browser();
        admin = Work.settle(service);
        work = new Work()
                .program("settle.sh", "echo settling $1; until [ -e go-$1 ]; do sleep 0.05; done; echo settled $1")
                .program("bad.sh", "echo trying; echo 'card processor refused the login'; exit 1");
        admin.bringIn(
                        """
                task: settle-tickets
                team: revenue
                about: Settles a day's ticket sales
                parameters:
                  route: { type: choice, of: [ skarholm, sound ], about: the route }
                  day: { type: date, default: "${planned.date}" }
                  key: { type: secret, default: }
                does: { command: [ ./settle.sh, "${route}" ], in: %1$s }
                schedules: [ { name: nightly, when: every day at 02:30, zone: Europe/Oslo, with: { route: sound } } ]
                ---
                task: bad
                team: revenue
                about: "%2$s"
                does: { command: [ ./bad.sh ], in: %1$s }
                ---
                chain: both
                team: revenue
                steps: [ { job: bad }, { step: after-failure, job: bad, on: failure }, { step: never, job: bad, after: bad } ]
                """
                                .replace("  key: { type: secret, default: }\n", "")
                                .formatted(work.folder(), HTML))
                .expect(200);
        work.write("go-skarholm", "");
        service.ended(admin, admin.start("settle-tickets", Map.of("route", "skarholm")));
        service.ended(admin, admin.start("settle-tickets", Map.of("route", "skarholm", "day", "2026-01-02")));
        service.ended(admin, admin.start("bad", Map.of()));
        service.ended(admin, admin.start("both", Map.of()));
    }

    @AfterAll
    static void end() {
        browser.close();
        service.close();
    }

    @AfterEach
    void nothingWasComplainedOf() {
        assertThat(browser.complaints()).isEmpty();
    }

    private static Page page(String path) {
        Page page = browser.signedIn(service.url(), "admin", Service.PASSWORD);
        page.navigate(service.url() + path);
        return page;
    }

    @Test
    @DisplayName("asks who one is, and says when name and password do not fit")
    void signsInAndOut() {
        Page page = browser.open(service.url() + "/jobs", 1280, ColorScheme.LIGHT);
        page.getByLabel("Name").fill("admin");
        page.getByLabel("Password").fill("not the password");
        button(page, "Sign in").click();
        assertThat(page.getByRole(AriaRole.ALERT)).hasText("the name or the password is wrong");
        page.getByLabel("Password").fill(Service.PASSWORD);
        button(page, "Sign in").click();
        assertThat(heading(page, "Jobs")).isVisible();
        button(page, "Sign out").click();
        assertThat(button(page, "Sign in")).isVisible();
    }

    @Test
    @DisplayName("says on Today how the day goes, what needs attention, and who sees to it")
    void today() {
        Page page = page("/");
        assertThat(heading(page, "runs so far today")).containsText("failed");
        Locator attention = page.getByLabel("Needs attention");
        assertThat(attention).containsText("bad");
        assertThat(attention).containsText("card processor refused the login");
        attention.getByRole(AriaRole.BUTTON).first().click();
        assertThat(attention).containsText("you see to it");
        Locator lane = page.getByRole(
                AriaRole.GROUP, new Page.GetByRoleOptions().setName(Pattern.compile("^settle-tickets, ")));
        lane.focus();
        page.keyboard().press("ArrowLeft");
        assertThat(page.getByRole(AriaRole.STATUS)).containsText("settle-tickets · run");
        page.keyboard().press("Enter");
        assertThat(page).hasURL(Pattern.compile("/runs/\\d+$"));
    }

    @Test
    @DisplayName("searches the history, keeps the filters in the address, and opens a run with Enter")
    void history() {
        Page page = page("/history");
        Locator rows = page.locator(".MuiDataGrid-row");
        assertThat(rows)
                .hasCount(Math.min(50, admin.get("/api/v1/runs?limit=50").body().size()));
        page.getByLabel("Words in job, values, message").fill("skarholm 2026-01-02");
        assertThat(page).hasURL(Pattern.compile("q=skarholm"));
        assertThat(rows).hasCount(1);
        page.navigate(service.url() + "/history?state=failed&job=bad");
        assertThat(rows.first()).containsText("card processor refused the login");
        assertThat(button(page, "only bad ✕")).isVisible();
        page.locator(".MuiDataGrid-row .MuiDataGrid-cell").first().click();
        assertThat(heading(page, "bad")).isVisible();
        page.navigate(service.url() + "/history?q=nothing-like-this");
        assertThat(page.getByText("No run is like that")).isVisible();
        button(page, "Take all filters away").click();
        assertThat(rows.first()).isVisible();
    }

    @Test
    @DisplayName(
            "starts a job with a form of its parameters, refuses a wrong value there, and shows the log as it grows")
    void startsAndFollows() {
        Page page = page("/jobs/settle-tickets");
        assertThat(page.getByLabel("Schedules")).containsText("every day at 02:30 (Oslo)");
        assertThat(page.getByLabel("Schedules")).containsText("London (yours)");
        button(page, "Start").click();
        Locator dialogue = page.getByRole(AriaRole.DIALOG);
        dialogue.getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Start"))
                .click();
        assertThat(dialogue).containsText("no value is given; one of the listed values is needed: skarholm, sound");
        dialogue.getByRole(AriaRole.COMBOBOX).click();
        page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName("sound"))
                .click();
        dialogue.getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Start"))
                .click();
        Locator log = page.getByRole(AriaRole.LOG);
        assertThat(log).containsText("settling sound");
        assertThat(page.getByRole(AriaRole.REGION, new Page.GetByRoleOptions().setName("Log")))
                .containsText("live");
        assertThat(log).not().containsText("settled sound");
        work.write("go-sound", "");
        assertThat(log).containsText("settled sound");
        assertThat(page.getByText("and succeeded after")).isVisible();
        page.getByLabel("Search the log").fill("settled");
        assertThat(log).not().containsText("settling");
        button(page, "Repeat").click();
        assertThat(page.getByLabel("About it")).containsText("repeats");
    }

    @Test
    @DisplayName("cancels a run after asking, by name")
    void cancels() {
        admin.bringIn(work.task("endless", "./settle.sh, never", "")).expect(200);
        long number = admin.start("endless", Map.of());
        Page page = page("/runs/" + number);
        button(page, "Cancel").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("Cancel run " + number + " of endless?");
        button(page, "Cancel the run").click();
        assertThat(page.getByText("cancelled by admin").first()).isVisible();
    }

    @Test
    @DisplayName("shows what became of each step of a chain")
    void showsSteps() {
        long number =
                admin.get("/api/v1/runs?job=both").body().get(0).path("number").asLong();
        Page page = page("/runs/" + number);
        Locator steps = page.getByLabel("Steps");
        assertThat(steps).containsText("after bad, on failure");
        assertThat(steps).containsText("not reached");
        steps.getByRole(AriaRole.LINK).first().click();
        assertThat(page.getByLabel("About it")).containsText("run " + number);
        assertThat(page.getByRole(AriaRole.LOG)).containsText("card processor refused the login");
        assertThat(button(page, "1 that look like errors")).isVisible();
    }

    @Test
    @DisplayName("switches a schedule off and on")
    void switchesASchedule() {
        Page page = page("/jobs/settle-tickets");
        Locator toggle = page.getByRole(AriaRole.SWITCH);
        toggle.click();
        assertThat(page.getByText("Switched off: what comes due waits")).isVisible();
        toggle.click();
        assertThat(page.getByLabel("Schedules")).containsText("UTC");
    }

    @Test
    @DisplayName(
            "makes a job with a form and its YAML side by side, and shows when a schedule comes before it is saved")
    void makesAJob() {
        Page page = page("/jobs");
        page.getByText("New job").click();
        assertThat(heading(page, "New job")).isVisible();
        page.getByLabel("Name").fill("made-here");
        page.getByRole(AriaRole.COMBOBOX, new Page.GetByRoleOptions().setName("Team"))
                .click();
        page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName("revenue"))
                .click();
        page.getByLabel("What it is for").fill("Made by hand");
        page.getByLabel("Command").fill("./bad.sh\n--day");
        page.getByLabel("Folder").fill(work.folder().toString());
        page.getByLabel("Schedule").fill("every weekday at 06:4");
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("a time such as 02:30 is expected");
        page.getByLabel("Schedule").fill("every weekday at 06:45");
        assertThat(page.getByText("every weekday at 06:45").last()).isVisible();
        Locator yaml = page.getByLabel("Definition as YAML");
        assertThat(yaml)
                .hasValue(Pattern.compile(
                        "task: made-here.*command: \\[ ./bad.sh, --day \\].*when: every weekday", Pattern.DOTALL));
        yaml.fill(yaml.inputValue().replace("task: made-here", "task: made-here\ntiem-limit: PT1M"));
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("unknown key; did you mean 'time-limit'?");
        yaml.fill(yaml.inputValue().replace("tiem-limit", "time-limit"));
        button(page, "Save").click();
        assertThat(heading(page, "made-here")).isVisible();
        assertThat(page.getByText("task of revenue, revision 1")).isVisible();
    }

    @Test
    @DisplayName("does not let one overwrite a colleague's change")
    void doesNotOverwrite() {
        admin.bringIn(work.task("disputed", "./bad.sh", "# first")).expect(200);
        Page page = page("/jobs/disputed/edit");
        page.getByLabel("What it is for").fill("mine");
        admin.bringIn(work.task("disputed", "./bad.sh", "# second")).expect(200);
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("was changed meanwhile by admin (revision 2)");
        assertThat(page.getByLabel("What it is for")).hasValue("mine");
        browser.complaints();
    }

    @Test
    @DisplayName("takes HTML for the text that it is")
    void takesHtmlForText() {
        Page page = page("/jobs/bad");
        assertThat(page.getByText(HTML).first()).isVisible();
        assertThat(page.locator("img")).hasCount(0);
        page.navigate(service.url() + "/jobs");
        assertThat(page.getByText(HTML)).isVisible();
        assertThat(page).hasTitle("Jobs · Gantrel");
    }

    @Test
    @DisplayName("is led by keys")
    void isLedByKeys() {
        Page page = page("/jobs");
        assertThat(heading(page, "Jobs")).isVisible();
        page.keyboard().press("?");
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("find a job, a run, a value");
        page.keyboard().press("Escape");
        assertThat(page.getByRole(AriaRole.DIALOG)).hasCount(0);
        page.keyboard().press("h");
        assertThat(heading(page, "What happened")).isVisible();
        page.keyboard().press("/");
        page.keyboard().type("1001");
        page.keyboard().press("Enter");
        assertThat(page).hasURL(Pattern.compile("/runs/1001$"));
    }

    @Test
    @DisplayName("can be used at 400 px, light and dark, without a page that is wider than the window")
    void fitsAPhone() {
        for (ColorScheme colours : List.of(ColorScheme.LIGHT, ColorScheme.DARK)) {
            Page page = browser.signedIn(service.url(), "admin", Service.PASSWORD, 400, colours);
            for (String path :
                    List.of("/", "/history", "/jobs", "/jobs/settle-tickets", "/runs/1001", "/jobs/bad/edit")) {
                page.navigate(service.url() + path);
                page.getByRole(AriaRole.MAIN)
                        .getByRole(AriaRole.HEADING)
                        .first()
                        .waitFor();
                assertThat((Integer) page.evaluate("document.documentElement.scrollWidth"))
                        .as(path)
                        .isLessThanOrEqualTo(400);
            }
        }
    }

    @Test
    @DisplayName("says that a run or a page is not there")
    void saysWhatIsNotThere() {
        Page page = page("/runs/99999");
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("there is no run 99999");
        page.navigate(service.url() + "/nowhere");
        assertThat(page.getByText("There is no such page")).isVisible();
        browser.complaints();
    }

    @Test
    @DisplayName(
            "says when in fields and words that stay in step, and keeps to a calendar that is made by clicking days")
    void schedulesAndCalendars() {
        int year = LocalDate.now().getYear() + 1;
        Page page = page("/new-calendar");
        page.getByLabel("Definition as YAML").fill("calendar: closing-days\nteam: revenue\ndays: none\n");
        button(page, String.valueOf(year))
                .or(page.getByLabel("Year " + year))
                .first()
                .click();
        page.getByLabel("Label for days that are clicked").fill("Stocktaking");
        page.getByLabel(year + "-06-15, closed").click();
        assertThat(page.getByLabel("Definition as YAML"))
                .hasValue(Pattern.compile("on: " + year + "-06-15, label: Stocktaking"));
        button(page, "Save").click();
        assertThat(heading(page, "closing-days")).isVisible();
        assertThat(page.getByLabel(year + "-06-15, open, Stocktaking").or(page.getByLabel(year + "-06-15, open")))
                .isVisible();
        page.navigate(service.url() + "/jobs/bad/new-schedule");
        page.getByLabel("Name").fill("month-end");
        page.getByLabel("When").last().fill("last working day of every month at 17:00");
        assertThat(page.getByLabel("Which")).hasText("last");
        page.getByLabel("Keeps off the days of").click();
        page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName("closing-days"))
                .click();
        assertThat(page.getByLabel("What it stands for")).containsText("last working day of every month at 17:00");
        button(page, "Save").click();
        assertThat(page.getByText("not on the days of closing-days")).isVisible();
        page.navigate(service.url() + "/schedules");
        Locator row = page.locator(".MuiDataGrid-row", new Page.LocatorOptions().setHasText("month-end"));
        assertThat(row).containsText("not closing-days");
        row.getByLabel("bad / month-end is on").click();
        assertThat(row.getByLabel("bad / month-end is off")).isVisible();
        assertThat(row).containsText("switched off");
    }

    @Test
    @DisplayName("shows schedules and calendars on a phone in the dark, and guards what is not saved")
    void narrowAndGuarded() {
        admin.bringIn("calendar: days-off\nteam: revenue\ndays: weekends\nclosed: [ { on: 1 May, label: May Day } ]\n")
                .expect(200);
        Page phone = browser.signedIn(service.url(), "admin", Service.PASSWORD, 400, ColorScheme.DARK);
        for (String path :
                List.of("/schedules", "/calendars", "/calendars/days-off", "/jobs/settle-tickets/schedules/nightly")) {
            phone.navigate(service.url() + path);
            assertThat(phone.locator("main h1").first()).isVisible();
            int wide = ((Number) phone.evaluate("document.documentElement.scrollWidth")).intValue();
            assertThat(wide).as(path).isLessThanOrEqualTo(400);
        }
        Page page = page("/calendars/days-off/edit");
        page.getByLabel("Definition as YAML").fill("calendar: days-off\nteam: revenue\ndays: none\n");
        page.onceDialog(dialog -> {
            assertThat(dialog.message()).contains("without saving");
            dialog.dismiss();
        });
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Jobs"))
                .click();
        assertThat(page).hasURL(Pattern.compile("/calendars/days-off/edit"));
        button(page, "Undo").click();
        assertThat(button(page, "Save")).isDisabled();
        page.getByLabel("Definition as YAML").fill("calendar: days-off\nteam: revenue\ndays: sometimes\n");
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("'sometimes': every day, weekdays, weekends");
        assertThat(button(page, "Save")).isDisabled();
    }

    @Test
    @DisplayName("switches many schedules at once")
    void switchesMany() {
        admin.bringIn(
                        work.task(
                                "harbour-lights",
                                "\"true\"",
                                "schedules: [ { name: dusk, when: every day at 20:00, zone: UTC }, { name: dawn, when: every day at 05:00, zone: UTC } ]"))
                .expect(200);
        Page page = page("/schedules?q=harbour-lights");
        assertThat(page.locator(".MuiDataGrid-row")).hasCount(2);
        page.getByLabel("Select all rows").check();
        assertThat(page.getByText("2 of 2 chosen may be switched by you")).isVisible();
        button(page, "Switch off").click();
        assertThat(page.getByText("switched off")).hasCount(2);
        page.navigate(service.url() + "/schedules?q=nothing-like-it");
        assertThat(page.getByText("No schedule is like that")).isVisible();
    }

    @Test
    @DisplayName("rehearses a start in its dialogue, and says what would go wrong")
    void rehearses() {
        Page page = page("/jobs/settle-tickets");
        button(page, "Start").click();
        button(page, "Rehearse").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("no value is given");
        page.getByRole(AriaRole.COMBOBOX).first().click();
        page.getByRole(AriaRole.OPTION, new Page.GetByRoleOptions().setName("sound"))
                .click();
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
        page.getByLabel("name", new Page.GetByLabelOptions().setExact(true)).fill("tickets");
        page.getByLabel("url", new Page.GetByLabelOptions().setExact(true)).fill("jdbc:h2:mem:console");
        button(page, "Keep it").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("is missing");
        page.getByLabel("password", new Page.GetByLabelOptions().setExact(true)).fill("hush-hush");
        page.getByLabel("user", new Page.GetByLabelOptions().setExact(true)).fill("sa");
        button(page, "Keep it").click();
        Locator card = page.getByLabel("tickets");
        assertThat(card).containsText("jdbc:h2:mem:console");
        card.getByText("Test").click();
        assertThat(card).containsText("It works: the database lets sa (tickets) in");
        org.assertj.core.api.Assertions.assertThat(page.content()).doesNotContain("hush-hush");
    }

    @Test
    @DisplayName("takes rows from a spreadsheet, runs a job over them, and shows how each row ended")
    void sweeps() {
        admin.bringIn("roster: lines\nteam: revenue\ncolumns: [ route ]\n").expect(200);
        Page page = page("/rosters/lines");
        assertThat(page.getByText("No rows yet")).isVisible();
        button(page, "Paste or load rows").click();
        page.getByLabel("Rows", new Page.GetByLabelOptions().setExact(true))
                .last()
                .fill("rute\tinclude\nskarholm\tyes\n");
        button(page, "Put these rows in").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("did you mean 'route'?");
        page.getByLabel("Rows", new Page.GetByLabelOptions().setExact(true))
                .last()
                .fill("route\tinclude\nskarholm\tyes\nmoon\tyes\nsound\tno\n");
        button(page, "Put these rows in").click();
        assertThat(page.getByRole(AriaRole.TABLE)).containsText("never run");
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
