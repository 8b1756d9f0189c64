package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.event.EventType;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.credential.Credentials.Draft;
import org.gantrel.service.expect.Expectations;
import org.gantrel.service.expect.Silences;
import org.gantrel.service.expect.Silences.Silence;
import org.gantrel.service.journal.Journal;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("What is expected and does not come")
class SilenceTest extends Mailed {

    private static List<Silence> silent(String job) {
        service.bean(Expectations.class).round();
        return service.bean(Silences.class).now().stream()
                .filter(each -> each.job().equals(job))
                .toList();
    }

    @Test
    @DisplayName("is told of once when a good end does not come, over a restart, and once more when it does")
    void tellsOfNoGoodEnd() throws Exception {
        service.define(
                """
                task: settle-up
                team: revenue
                does: { files: delete, under: %s, matching: "*.none" }
                expect: { good-within: 26 h }
                ---
                notification: quiet-desk
                team: revenue
                for: { jobs: [ settle-up ] }
                tells: [ silence, recovered ]
                to: [ { person: mara.holt } ]
                """
                        .formatted(folder));
        // its end is by the clock of the service, as that of a command is not
        service.ended(service.start("settle-up"));
        assertThat(silent("settle-up")).isEmpty();
        CLOCK.moveBy(Duration.ofHours(27));
        assertThat(silent("settle-up"))
                .extracting(Silence::message)
                .containsExactly("settle-up has not been good for 27 h; a good end is expected at least every 26 h");
        service.restart();
        assertThat(silent("settle-up")).hasSize(1);
        String silence =
                "mara.holt@example.org: settle-up has not been good for 27 h; a good end is expected at least every 26 h";
        awaitMails("settle-up", silence);
        service.ended(service.start("settle-up"));
        assertThat(silent("settle-up")).isEmpty();
        awaitMails("settle-up", silence, "mara.holt@example.org: settle-up is good again");
    }

    @Test
    @DisplayName(
            "is told of a schedule without a coming start, a start that waits, and a folder into which nothing comes")
    void tellsOfMore() throws Exception {
        Path inbox = Files.createDirectory(folder.resolve("inbox"));
        service.define(
                """
                task: one-off
                team: revenue
                does: { shell: 'exit 0' }
                schedules: [ { name: once, when: every day at 02:00, zone: Europe/Oslo, until: 2026-11-01 } ]
                expect: { coming-start: yes }
                ---
                task: stuck
                team: revenue
                does: { shell: 'exit 0' }
                gates: [ { file: /nowhere/at/all } ]
                expect: { starts-within: 10 min }
                ---
                task: nowhere
                team: revenue
                does: { shell: 'exit 0' }
                expect: { arrivals: { under: /nowhere/at/all, within: 2 h } }
                ---
                task: intake
                team: revenue
                does: { shell: 'exit 0' }
                expect: { arrivals: { under: %s, matching: "*.csv", within: 2 h } }
                ---
                notification: waits-desk
                team: revenue
                for: { jobs: [ stuck ] }
                tells: [ waits-long ]
                to: [ { person: mara.holt } ]
                """
                        .formatted(inbox));
        assertThat(silent("one-off")).extracting(Silence::what).containsExactly("coming-start");
        service.start("stuck");
        CLOCK.moveBy(Duration.ofMinutes(11));
        service.bean(Expectations.class).round();
        service.bean(Expectations.class).round();
        awaitMails("stuck", "mara.holt@example.org: stuck waits for long");
        assertThat(silent("intake")).isEmpty();
        CLOCK.moveBy(Duration.ofHours(3));
        Await.until("nothing came", () -> !silent("intake").isEmpty());
        Await.until("nor where nobody can look", () -> {
            CLOCK.moveBy(Duration.ofSeconds(20));
            return !silent("nowhere").isEmpty();
        });
        assertThat(silent("nowhere").get(0).message()).contains("there is no folder /nowhere/at/all");
        Files.writeString(inbox.resolve("a.csv"), "1");
        Await.until("something came", () -> {
            // between two looks there is a pause by this clock
            CLOCK.moveBy(Duration.ofSeconds(1));
            return silent("intake").isEmpty();
        });
    }

    @Test
    @DisplayName("is told of a deadline that will probably be missed")
    void tellsOfRisks() throws Exception {
        service.define(
                """
                task: late-one
                team: revenue
                does: { shell: 'exit 0' }
                ---
                notification: risks
                team: revenue
                for: { jobs: [ late-one ] }
                tells: [ at-risk ]
                to: [ { person: mara.holt } ]
                """);
        String message = "late-one will probably miss its deadline, Tue 24 Nov 01:45 (Europe/Oslo), by 2 min";
        service.bean(Journal.class)
                .write(EventType.JOB_AT_RISK.type(), "revenue", Map.of("job", "late-one", "message", message));
        awaitMails("late-one", "mara.holt@example.org: " + message);
    }

    @Test
    @DisplayName("is told of a credential that ends soon, once")
    void tellsOfCredentials() {
        service.define(
                """
                notification: keys
                team: revenue
                tells: [ credential-expiring ]
                to: [ { team: revenue, role: manager } ]
                urgency: urgent
                """);
        LocalDate soon = LocalDate.ofInstant(CLOCK.instant(), ZoneOffset.UTC).plusDays(3);
        service.bean(Credentials.class)
                .keep(
                        LiveService.SERVICE,
                        "ends-soon",
                        new Draft(
                                "revenue",
                                CredentialKind.SECRET,
                                "",
                                Map.of(),
                                Map.of("value", "x"),
                                soon,
                                List.of(),
                                List.of()));
        for (int i = 0; i < 30; i++) {
            service.bean(Expectations.class).round();
        }
        awaitMails(
                "ends-soon",
                "ivo.brandt@example.org: the credential ends-soon expires on " + soon
                        + "; rotate it and set the new date");
    }
}
