package org.gantrel.acceptance;

import static com.microsoft.playwright.assertions.PlaywrightAssertions.assertThat;
import static org.assertj.core.api.Assertions.assertThat;

import com.microsoft.playwright.Page;
import com.microsoft.playwright.options.ColorScheme;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeAll;

/** A service with a console to look at, and jobs that went well and badly. */
abstract class ConsolePages extends OneService {

    static final String HTML = "<img src=x onerror=document.title=1>";

    static Browser browser;

    @BeforeAll
    static void begin() {
        browser = new Browser();
        work.program("settle.sh", "echo settling $1; until [ -e go-$1 ]; do sleep 0.05; done; echo settled $1")
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
    }

    @AfterEach
    void nothingWasComplainedOf() {
        assertThat(browser.complaints()).isEmpty();
    }

    static Page page(String path) {
        return browser.signedIn(service.url(), path, 1280, ColorScheme.LIGHT);
    }
}
