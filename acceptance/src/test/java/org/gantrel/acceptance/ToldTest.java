package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;
import static org.gantrel.acceptance.Browser.button;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import com.microsoft.playwright.Locator;
import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.AriaRole;
import com.microsoft.playwright.options.ColorScheme;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.net.ServerSocket;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;

@DisplayName("Being told")
class ToldTest {

    private static final int STORM = 30;

    private static Service service;
    private static Http admin;
    private static Work work;
    private static Browser browser;
    private static int port;
    private static GreenMail mail;

    @BeforeAll
    static void begin() throws Exception {
        try (ServerSocket free = new ServerSocket(0)) {
            port = free.getLocalPort();
        }
        service = Service.fresh(
                "--mail-host", "127.0.0.1", "--mail-port", String.valueOf(port), "--mail-from", "gantrel@example.org");
        admin = Work.settle(service);
        work = new Work().program("mended.sh", "[ -e $1 ] || { echo 'no line to the bank'; exit 3; }");
        browser = new Browser();
        admin.put(
                        "/api/v1/me/telling",
                        Map.of("mail", "admin@example.org", "zone", "UTC", "quietFrom", "00:00", "quietUntil", "00:00"))
                .expect(200);
        var all = new StringBuilder(
                """
                notification: desk
                team: revenue
                for: { jobs: [ pay ] }
                to: [ { person: admin }, bank@example.org ]
                then: { after: 1 h, to: [ owner ] }
                ---
                %s"""
                        .formatted(task("pay", "owner: admin\n")));
        for (int i = 0; i < STORM; i++) {
            all.append("---\n").append(task("storm-" + i, "notify: { failed: [ storm-" + i + "@example.org ] }\n"));
        }
        admin.bringIn(all.toString()).expect(200);
    }

    private static String task(String name, String more) {
        return "task: " + name + "\nteam: revenue\ndoes: { command: [ ./mended.sh, " + name + " ], in: " + work.folder()
                + " }\n" + more;
    }

    @AfterAll
    static void end() {
        browser.close();
        if (mail != null) {
            mail.stop();
        }
        service.close();
    }

    private static void startMail() {
        mail = new GreenMail(new ServerSetup(port, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
    }

    private static List<String> mails() {
        return Arrays.stream(mail.getReceivedMessages()).map(ToldTest::line).toList();
    }

    private static String line(MimeMessage message) {
        try {
            return message.getAllRecipients()[0] + " " + message.getSubject().replaceAll(" \\(run \\d+\\)", "");
        } catch (MessagingException e) {
            throw new IllegalStateException(e);
        }
    }

    private static Shell.Result gantrel(String... arguments) {
        return service.gantrel(admin.token(), arguments);
    }

    @Test
    @DisplayName("tells of a fault once, shows it, silences it for who sees to it, and tells that it works again")
    void tellsOnce() {
        if (mail == null) {
            startMail();
        }
        assertThat(gantrel("job", "told", "pay", "--what", "failed").out())
                .contains("admin <admin@example.org>", "bank@example.org", "after 1 h in which nobody sees to it");
        service.ended(admin, admin.start("pay", Map.of()));
        Await.until(
                "both are told",
                () -> mails().stream()
                                .filter(line -> line.endsWith("pay failed"))
                                .count()
                        == 2);
        service.ended(admin, admin.start("pay", Map.of()));
        JsonNode fault = admin.get("/api/v1/faults?job=pay").body().get(0);
        Await.until(
                "the second is counted",
                () -> admin.get("/api/v1/faults?job=pay")
                                .body()
                                .get(0)
                                .path("badEnds")
                                .asInt()
                        == 2);
        Page page = browser.signedIn(service.url(), "/faults", 1280, ColorScheme.LIGHT);
        page.getByRole(AriaRole.LINK, new Page.GetByRoleOptions().setName("pay").setExact(true))
                .click();
        assertThat(page.getByRole(
                        AriaRole.HEADING, new Page.GetByRoleOptions().setName("pay failed, 2 times in a row")))
                .isVisible();
        button(page, "I'm on it").click();
        assertThat(button(page, "I'm not on it any more")).isVisible();
        page.getByLabel("A note").fill("the bank repairs its line");
        page.keyboard().press("Enter");
        assertThat(page.getByText("the bank repairs its line")).isVisible();
        assertThat(gantrel("fault", "show", fault.path("id").asString()).out())
                .contains("admin sees to it", "the bank repairs its line", "2 in a row");
        assertThat(gantrel("fault", "list", "--format", "csv").out()).contains("pay");
        work.program("pay", "");
        service.ended(admin, admin.start("pay", Map.of()));
        assertThat(page.getByRole(AriaRole.HEADING, new Page.GetByRoleOptions().setName("pay works again")))
                .isVisible();
        Await.until(
                "both are told again",
                () -> mails().stream()
                                .filter(line -> line.endsWith("pay works again"))
                                .count()
                        == 2);
        assertThat(mails().stream().filter(line -> line.contains("pay")).toList())
                .hasSize(4);
        page.getByLabel("Told you").click();
        assertThat(page.getByText("You were told")).isVisible();
        assertThat(gantrel("fault", "take", fault.path("id").asString()).code()).isEqualTo(4);
        assertThat(gantrel("channel", "test", "mail").code()).isZero();
    }

    @Test
    @DisplayName("lets people stand in and swap weeks of duty, by command and by mouse")
    void standsIn() {
        admin.post("/api/v1/people", Map.of("name", "mara.holt", "fullName", "", "password", "quiet-harbour-42"))
                .expect(201);
        admin.bringIn("duty: weeks\nteam: revenue\nzone: Europe/Oslo\nfrom: 2026-11-23\nturns: [ admin, mara.holt ]\n")
                .expect(200);
        assertThat(gantrel("duty", "swap", "weeks", "--week", "2099-06-01", "--with", "2099-06-08")
                        .code())
                .isZero();
        assertThat(gantrel("duty", "swap", "weeks", "--week", "2099-06-01", "--with", "2099-06-22")
                        .err())
                .contains("the same person has both weeks");
        assertThat(gantrel("duty", "swap", "weeks", "--week", "2099-13-01", "--with", "2099-06-22")
                        .err())
                .contains("--week: '2099-13-01' is no day; one is written as 2026-12-24");
        assertThat(gantrel("duty", "cover", "weeks", "--from", "2099-07-02", "--until", "2099-07-01")
                        .err())
                .contains("is not after 2099-07-02");
        Page page = browser.signedIn(service.url(), "/notifications?view=rules", 1280, ColorScheme.LIGHT);
        Locator card = page.getByRole(AriaRole.ARTICLE, new Page.GetByRoleOptions().setName("weeks"));
        card.getByRole(AriaRole.BUTTON, new Locator.GetByRoleOptions().setName("Stand in"))
                .click();
        page.getByLabel("From").fill("2099-08-01");
        page.getByLabel("Until").fill("2099-08-02");
        button(page, "Save").click();
        Await.until("it is saved", () -> gantrel("duty", "show", "weeks").out().contains("2099-08-01"));
        assertThat(gantrel("duty", "show", "weeks").out())
                .contains("{ from: 2099-06-01, until: 2099-06-08, person:", "person: admin }");
    }

    @Test
    @DisplayName("loses no message and sends none twice when it is killed while the mail server is away and comes back")
    void losesNothing() throws Exception {
        if (mail != null) {
            mail.stop();
        }
        List<Long> runs = new ArrayList<>();
        for (int i = 0; i < STORM; i++) {
            runs.add(admin.start("storm-" + i, Map.of()));
            if (i % 20 == 7) {
                service.kill();
                service.start();
                admin = service.admin();
            }
        }
        for (Long run : runs) {
            service.ended(admin, run);
        }
        Await.until("all are written down", () -> waiting().size() == STORM);
        startMail();
        // each is tried again after a while, and the rest as soon as the server has taken one; a message that somebody
        // sends
        // again while it goes out by itself would rightly go twice
        Await.until(
                "all are out",
                () -> mails().stream()
                                .filter(line -> line.contains("storm"))
                                .distinct()
                                .count()
                        == STORM);
        assertThat(mails().stream().filter(line -> line.contains("storm")).toList())
                .hasSize(STORM);
    }

    private static List<JsonNode> waiting() {
        var found = new ArrayList<JsonNode>();
        admin.get("/api/v1/deliveries?state=waiting&limit=200").body().forEach(each -> {
            if (each.path("address").asString().startsWith("storm")) {
                found.add(each);
            }
        });
        return found;
    }
}
