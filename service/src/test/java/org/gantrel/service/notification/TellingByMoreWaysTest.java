package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import jakarta.mail.BodyPart;
import jakarta.mail.Multipart;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.notification.DutyList;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.execution.ShortCommand;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Run;
import org.gantrel.service.telling.Tellings;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.support.TransactionTemplate;

@DisplayName("Messages go by more ways")
class TellingByMoreWaysTest extends Mailed {

    private static String paged() {
        try {
            return Files.readString(folder.resolve("paged"));
        } catch (IOException e) {
            return "";
        }
    }

    private static List<String> attached(MimeMessage mail) throws Exception {
        var names = new ArrayList<String>();
        if (mail.getContent() instanceof Multipart parts) {
            for (int i = 0; i < parts.getCount(); i++) {
                BodyPart part = parts.getBodyPart(i);
                if (part.getFileName() != null) {
                    names.add(part.getFileName() + "="
                            + new String(part.getInputStream().readAllBytes()).strip());
                }
            }
        }
        return names;
    }

    @Test
    @DisplayName("with the outputs of the run that a rule names, up to a limit that the mail tells of")
    void withOutputs() throws Exception {
        service.define(
                "notification: sheets\nteam: revenue\nfor: { jobs: [ \"sheet-*\" ] }\ntells: [ failed, succeeded ]\n"
                        + "to: [ ops@example.org ]\nattach: [ \"*.csv\", \"**/*.txt\" ]\n");
        service.task(
                "sheet-a",
                "mkdir deep; echo a,b >sales.csv; echo x >deep/x.txt; echo z >deep/z.dat; echo y >y.log; head -c 6000000 /dev/zero >zero.csv; exit 3",
                "outputs: [ { file: sales.csv }, { file: deep }, { file: y.log }, { file: zero.csv } ]\n");
        run("sheet-a");
        awaitMails("sheet-a", "ops@example.org: sheet-a failed");
        assertThat(attached(about("sheet-a"))).containsExactly("deep_deep_x.txt=x", "sales.csv=a,b");
        assertThat(text(about("sheet-a")))
                .contains("zero.csv (6000000 bytes) does not go along: at most 20 files of 5000000 bytes together do.");
        service.task("sheet-b", "true", "");
        run("sheet-b");
        awaitMails("sheet-b", "ops@example.org: sheet-b succeeded");
        assertThat(text(about("sheet-b"))).contains("No output of the run");
    }

    @Test
    @DisplayName("by a command, which gets them on its input and whose own words tell why it did not take one")
    void byACommand() throws Exception {
        Path program = Files.writeString(
                folder.resolve("page.sh"),
                "#!/bin/sh\ncat >>" + folder + "/paged\necho \"no paper in $1\"\ntest -e " + folder + "/paper\n");
        Files.setPosixFilePermissions(program, PosixFilePermissions.fromString("rwxr-xr-x"));
        service.define("channel: pager\nteam: revenue\ncommand: [ " + program + ", night ]\n"
                + "body: '{ \"text\": \"{{sentence}}\" }'\n");
        service.define(
                "notification: paged\nteam: revenue\nfor: { jobs: [ pages ] }\nto: [ { person: mara.holt } ]\nby: pager\n");
        ChannelApi.Tried tried = service.bean(ChannelApi.class).test(LiveService.SERVICE, "pager", null);
        assertThat(tried.taken()).isFalse();
        assertThat(tried.said()).isEqualTo("it ended with the exit code 1: no paper in night");
        service.define("channel: loud\nteam: revenue\n"
                + "command: [ /bin/sh, -c, \"head -c 30000000 /dev/zero | tr '\\\\0' a; sleep 60 & exit 3\" ]\n");
        assertThat(service.bean(ChannelApi.class)
                        .test(LiveService.SERVICE, "loud", null)
                        .said())
                .startsWith("it ended with the exit code 3: aaaa")
                .hasSizeLessThan(400);
        var root = new Credential("all", CredentialKind.ACCOUNT, Map.of("account", "root"), Map.of());
        assertThatThrownBy(() -> service.bean(ShortCommand.class)
                        .run(List.of("/bin/true"), Optional.of(root), "", Duration.ofSeconds(60)))
                .hasMessageContaining("may do everything, and no channel acts as it");
        Files.writeString(folder.resolve("paper"), "");
        service.task("pages", "exit 3", "");
        run("pages");
        Await.until("it was paged", () -> paged().contains("pages failed"));
        assertThat(paged()).endsWith("{ \"text\": \"pages failed: exit code 3\" }");
        assertThatThrownBy(() ->
                        service.define("channel: c\nteam: revenue\ncommand: [ page ]\ncall: http://a.example.org\n"))
                .hasMessageContaining("a program by its full path")
                .hasMessageContaining("a channel calls an address or runs a command");
    }

    @Test
    @DisplayName("as digests that tell of changes and of what is to come, and of each run of a chain with its steps")
    void asDigests() throws Exception {
        // other tests have moved the clock to any time of the day
        LocalTime now =
                LocalTime.ofInstant(CLOCK.instant(), ZoneId.of("Europe/Oslo")).truncatedTo(ChronoUnit.MINUTES);
        service.define(
                """
                digest: evening
                team: revenue
                for: { jobs: [ "sum-*" ] }
                when: every day at %s
                zone: Europe/Oslo
                to: [ boss@example.org ]
                ---
                digest: closing
                team: revenue
                chain: closes
                zone: Europe/Oslo
                to: [ close@example.org ]
                """
                        .formatted(now.plusHours(1)));
        Await.until("they count from now on", () -> {
            service.bean(Courier.class).ring();
            return service.bean(DigestToldStore.class).count() >= 2;
        });
        CLOCK.moveBy(Duration.ofMinutes(2));
        service.task(
                "sum-up",
                "true",
                "schedules: [ { name: later, when: every day at " + now.plusHours(2) + ", zone: Europe/Oslo } ]\n");
        service.task("first", "true", "");
        service.task("second", "exit 3", "");
        service.define(
                "chain: closes\nteam: revenue\nsteps:\n  - { step: a, job: first }\n  - { step: b, job: second, after: [ a ] }\n");
        run("closes");
        Await.until("its fault is known", () -> service.bean(FaultLedger.class)
                .current(service.bean(Jobs.class).named("closes").orElseThrow().id())
                .isPresent());
        CLOCK.moveBy(Duration.ofMinutes(2));
        awaitMails("closing", "close@example.org: closing: 1 run, 1 fault to see to");
        assertThat(text(about("closing")))
                .containsSubsequence("Run ", " of closes:", "- a succeeded", "- b failed")
                .contains("exit code 3");
        run("closes");
        CLOCK.moveBy(Duration.ofMinutes(5));
        service.bean(Courier.class).ring();
        assertThat(mails("closing")).as("no second one within the hour").hasSize(1);
        CLOCK.moveBy(Duration.ofMinutes(65));
        awaitMails(
                "closing",
                "close@example.org: closing: 1 run, 1 fault to see to",
                "close@example.org: closing: 1 run, 1 fault to see to");
        awaitMails("evening", "boss@example.org: evening: 0 runs, all is well");
        assertThat(text(about("evening")))
                .contains("What was changed:", "job sum-up was created by ", "What is to come:", "sum-up ")
                .doesNotContain("first", "was started");
    }

    @Test
    @DisplayName(
            "no more when somebody sees to the run that failed: that is to see to its fault, and the other way round")
    void noMoreWhenSeenTo() throws Exception {
        service.define(
                "notification: nags\nteam: revenue\nfor: { jobs: [ nags ] }\nto: [ ops@example.org ]\nremind: 30 min\nurgency: urgent\n");
        breaks("nags", "");
        Run bad = run("nags");
        awaitMails("nags", "ops@example.org: nags failed");
        long job = service.bean(Jobs.class).named("nags").orElseThrow().id();
        var faults = service.bean(FaultLedger.class);
        var transaction = service.bean(TransactionTemplate.class);
        transaction.executeWithoutResult(
                status -> service.bean(Ledger.class).takeCharge(bad.number(), "mara.holt", CLOCK.instant()));
        assertThat(faults.current(job).orElseThrow().seenBy()).isEqualTo("mara.holt");
        CLOCK.moveBy(Duration.ofHours(1));
        service.bean(Courier.class).ring();
        transaction.executeWithoutResult(
                status -> service.bean(Ledger.class).takeCharge(bad.number(), "", CLOCK.instant()));
        assertThat(faults.current(job).orElseThrow().seenBy()).isEmpty();
        awaitMails("nags", "ops@example.org: nags failed", "ops@example.org: nags still fails");
    }

    @Test
    @DisplayName(
            "to whoever stands in on duty: of themselves anybody of the team may say so, of others who may define it")
    void toWhoeverStandsIn() {
        service.define(
                "duty: desk\nteam: revenue\nzone: Europe/Oslo\nfrom: 2026-11-23\nturns: [ mara.holt, ivo.brandt ]\n");
        Tellings tellings = service.bean(Tellings.class);
        var christmas = new DutyList.Cover(LocalDate.of(2026, 12, 24), LocalDate.of(2026, 12, 27), "mara.holt");
        tellings.cover(caller("mara.holt"), tellings.visible(LiveService.SERVICE, "duty", "desk"), List.of(christmas));
        assertThat(tellings.visible(LiveService.SERVICE, "duty", "desk").text())
                .contains("until: 2026-12-27, person: mara.holt");
        assertThatThrownBy(() -> tellings.cover(
                        caller("mara.holt"),
                        tellings.visible(LiveService.SERVICE, "duty", "desk"),
                        List.of(new DutyList.Cover(christmas.from(), christmas.until(), "ivo.brandt"))))
                .isInstanceOf(Refusal.class);
    }
}
