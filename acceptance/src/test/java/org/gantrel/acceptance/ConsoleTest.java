package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;
import static org.gantrel.acceptance.Browser.heading;
import static org.gantrel.acceptance.Browser.option;

import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.regex.Pattern;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The console")
class ConsoleTest extends ConsolePages {

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
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Sign out"))
                .click();
        assertThat(button(page, "Sign in")).isVisible();
    }

    @Test
    @DisplayName("shows what somebody chose on another device too")
    void choices() {
        Page one = page("/");
        button(one, "From midnight only").click();
        assertThat(button(one, "With the night")).isVisible();
        one.waitForResponse(answer -> answer.url().endsWith("/choices/dates"), () -> {
            one.navigate(service.url() + "/me");
            one.getByLabel(Pattern.compile("^\\d{4}-\\d\\d-\\d\\d")).check();
        });
        Page other = page("/");
        assertThat(button(other, "With the night")).isVisible();
        button(other, "With the night").click();
        assertThat(button(other, "From midnight only")).isVisible();
        other.navigate(service.url() + "/me");
        assertThat(other.getByLabel(Pattern.compile("^\\d{4}-\\d\\d-\\d\\d"))).isChecked();
        other.waitForResponse(
                answer -> answer.url().endsWith("/choices/dates"),
                () -> other.getByLabel(Pattern.compile("^[A-Z][a-z]{2} \\d")).check());
    }

    @Test
    @DisplayName("says on Today how the day goes, what needs attention, and who sees to it")
    void today() {
        Page page = page("/");
        assertThat(heading(page, "runs")).containsText("failed");
        Locator attention = page.getByLabel("Needs attention");
        assertThat(attention).containsText("bad");
        assertThat(attention).containsText("card processor refused the login");
        attention
                .getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("I'm on it"))
                .first()
                .click();
        assertThat(attention).containsText("you are on it");
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
        page.navigate(service.url() + "/history?state=failed,succeeded");
        page.getByRole(AriaRole.COLUMNHEADER, new Page.GetByRoleOptions().setName("Took"))
                .click();
        assertThat(page).hasURL(Pattern.compile("sort=took"));
        assertThat(page.getByText("runs, sorted by took")).isVisible();
        String shortest = String.valueOf(admin.get("/api/v1/runs?state=failed,succeeded&rows=no&sort=took&limit=1")
                .body()
                .path(0)
                .path("number")
                .asLong());
        assertThat(rows.first()).containsText(shortest);
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
        option(page, "sound").click();
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
        assertThat(page.getByText("1", new Page.GetByTextOptions().setExact(true))
                        .first())
                .isVisible();
        button(page, "Repeat").click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("sound");
        page.getByRole(AriaRole.DIALOG)
                .getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Repeat"))
                .click();
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
        button(page, "List").click();
        assertThat(steps).containsText("after bad on failure");
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
        option(page, "revenue").click();
        page.getByLabel("What it is for").fill("Made by hand");
        page.getByLabel("Command").fill("./bad.sh\n--day");
        page.getByLabel("Folder").fill(work.folder().toString());
        page.getByLabel("Schedule").fill("every weekday at 06:4");
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("a time such as 02:30 is expected");
        page.getByLabel("Schedule").fill("every weekday at 06:45");
        assertThat(page.getByText("every weekday at 06:45").last()).isVisible();
        Locator yaml = page.getByLabel("Definition as YAML");
        saysMore(page, yaml);
        Browser.write(yaml, Browser.linesOf(yaml).replace("task: made-here", "task: made-here\ntiem-limit: PT1M"));
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.ALERT)).containsText("unknown key; did you mean 'time-limit'?");
        Browser.write(yaml, Browser.linesOf(yaml).replace("tiem-limit", "time-limit"));
        button(page, "Save").click();
        assertThat(heading(page, "made-here")).isVisible();
        assertThat(page.getByText("task of revenue, revision 1")).isVisible();
    }

    /** Adds a parameter, and says what counts as a failure. */
    private static void saysMore(Page page, Locator yaml) {
        page.getByText("Parameters").click();
        button(page, "Add a parameter").click();
        Locator parameter = page.getByLabel("parameter value");
        parameter.getByLabel("about").fill("the line");
        parameter.getByLabel("type").click();
        option(page, "choice").click();
        parameter
                .getByLabel("of", new Locator.GetByLabelOptions().setExact(true))
                .fill("sound, skarholm");
        parameter.getByLabel("default").fill("sound");
        parameter.getByLabel("name").fill("route");
        page.getByText("What counts as a failure").click();
        page.getByLabel("Exit codes of a warning").fill("3, 4");
        page.getByLabel("Output that is a failure").fill("^ERROR");
        page.keyboard().press("Tab");
        assertThat(yaml)
                .containsText(Pattern.compile(
                        "route: .*about: the line.*of: \\[ sound, skarholm \\].*default: sound.*"
                                + "warned: \\[ 3, 4 \\].*failed-by: \\[ \\^ERROR \\]",
                        Pattern.DOTALL));
        assertThat(yaml)
                .containsText(Pattern.compile(
                        "task: made-here.*command: \\[ ./bad.sh, --day \\].*when: every weekday", Pattern.DOTALL));
    }

    @Test
    @DisplayName("does not let one overwrite a colleague's change")
    void doesNotOverwrite() {
        admin.bringIn(work.task("disputed", "./bad.sh", "# first")).expect(200);
        Page page = page("/jobs/disputed/edit");
        page.getByLabel("What it is for").fill("mine");
        admin.bringIn(work.task("disputed", "./bad.sh", "# second")).expect(200);
        button(page, "Save").click();
        assertThat(page.getByRole(AriaRole.ALERT).getByText("was changed meanwhile by admin (revision 2)"))
                .isVisible();
        assertThat(page.getByLabel("What it is for")).hasValue("mine");
        assertThat(page.getByText("Somebody else has saved this while you were writing."))
                .isVisible();
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
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("find a job, a run, a page, an action");
        page.keyboard().press("Escape");
        assertThat(page.getByRole(AriaRole.DIALOG)).hasCount(0);
        page.keyboard().press("h");
        assertThat(heading(page, "What happened")).isVisible();
        page.keyboard().press("/");
        page.keyboard().type("1001");
        option(page, "Run 1001").waitFor();
        page.keyboard().press("Enter");
        assertThat(page).hasURL(Pattern.compile("/runs/1001$"));
    }

    @Test
    @DisplayName("can be used at 400 px, light and dark, without a page that is wider than the window")
    void fitsAPhone() {
        for (ColorScheme colours : List.of(ColorScheme.LIGHT, ColorScheme.DARK)) {
            Page page = browser.signedIn(service.url(), "/", 400, colours);
            for (String path : List.of(
                    "/",
                    "/history",
                    "/jobs",
                    "/jobs/settle-tickets",
                    "/runs/1001",
                    "/jobs/bad/edit",
                    "/changes",
                    "/notifications")) {
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
    @DisplayName("shows who changed what, opens what was changed, and has a page for mails")
    void showsChanges() {
        Page page = page("/changes");
        assertThat(page.getByRole(AriaRole.GRID)).containsText("created");
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("settle-tickets"))
                .first()
                .click();
        assertThat(heading(page, "settle-tickets")).isVisible();
        page.navigate(service.url() + "/notifications");
        assertThat(heading(page, "Notifications")).isVisible();
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
        Browser.write(page.getByLabel("Definition as YAML"), "calendar: closing-days\nteam: revenue\ndays: none\n");
        button(page, String.valueOf(year))
                .or(page.getByLabel("Year " + year))
                .first()
                .click();
        page.getByLabel("Label for days that are clicked").fill("Stocktaking");
        page.getByLabel(year + "-06-15, closed").click();
        assertThat(page.getByLabel("Definition as YAML"))
                .containsText(Pattern.compile("on: " + year + "-06-15, label: Stocktaking"));
        button(page, "Save").click();
        assertThat(heading(page, "closing-days")).isVisible();
        assertThat(page.getByLabel(year + "-06-15, open, Stocktaking").or(page.getByLabel(year + "-06-15, open")))
                .isVisible();
        page.navigate(service.url() + "/jobs/bad/new-schedule");
        page.getByLabel("Name").fill("month-end");
        page.getByLabel("When").last().fill("last working day of every month at 17:00");
        assertThat(page.getByLabel("Which")).hasText("last");
        page.getByLabel("Keeps off the days of").click();
        option(page, "closing-days").click();
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
        Page phone = browser.signedIn(service.url(), "/", 400, ColorScheme.DARK);
        for (String path :
                List.of("/schedules", "/calendars", "/calendars/days-off", "/jobs/settle-tickets/schedules/nightly")) {
            phone.navigate(service.url() + path);
            assertThat(phone.locator("main h1").first()).isVisible();
            int wide = ((Number) phone.evaluate("document.documentElement.scrollWidth")).intValue();
            assertThat(wide).as(path).isLessThanOrEqualTo(400);
        }
        Page page = page("/calendars/days-off/edit");
        Browser.write(page.getByLabel("Definition as YAML"), "calendar: days-off\nteam: revenue\ndays: none\n");
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("Jobs"))
                .click();
        assertThat(page.getByRole(AriaRole.DIALOG)).containsText("what you changed in calendar days-off");
        button(page, "Stay").click();
        assertThat(page).hasURL(Pattern.compile("/calendars/days-off/edit"));
        button(page, "Undo").click();
        assertThat(button(page, "Save")).isDisabled();
        Browser.write(page.getByLabel("Definition as YAML"), "calendar: days-off\nteam: revenue\ndays: sometimes\n");
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
        assertThat(page.getByText("2 chosen")).isVisible();
        button(page, "Switch off 2").click();
        assertThat(page.getByText("switched off")).hasCount(2);
        page.navigate(service.url() + "/schedules?q=nothing-like-it");
        assertThat(page.getByText("No schedule is like that")).isVisible();
    }
}
