package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.MessagingException;
import jakarta.mail.Multipart;
import jakarta.mail.Part;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.regex.Pattern;
import org.gantrel.core.access.Role;
import org.gantrel.service.Await;
import org.gantrel.service.LiveService;
import org.gantrel.service.MovableClock;
import org.gantrel.service.TestSettings;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.fault.FaultRecord;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.run.Run;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.io.TempDir;

/** A service whose people have addresses, with a mail server that keeps what it gets, and a clock that the test moves. */
abstract class Mailed {

    /** A Monday at noon in Oslo. */
    static final MovableClock CLOCK = new MovableClock(Instant.parse("2026-11-23T11:00:00Z"));

    static GreenMail mail;

    @TempDir
    static Path folder;

    static LiveService service;

    @BeforeAll
    static void open() {
        mail = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        service = LiveService.fresh(
                folder,
                CLOCK,
                settings -> TestSettings.withMail(settings, mail.getSmtp().getPort()));
        Teams teams = service.bean(Teams.class);
        for (String name : List.of("mara.holt", "ivo.brandt", "tove.lind")) {
            teams.createPerson(LiveService.SERVICE, name, name, "quiet-harbour-42", false);
        }
        teams.setRole(LiveService.SERVICE, "revenue", "mara.holt", Role.OPERATOR);
        teams.setRole(LiveService.SERVICE, "revenue", "ivo.brandt", Role.MANAGER);
        say("mara.holt", "", "00:00", "00:00", "urgent");
        say("ivo.brandt", "", "21:00", "07:00", "urgent");
    }

    @AfterAll
    static void close() {
        service.close();
        mail.stop();
    }

    @BeforeEach
    void goOn() throws Exception {
        CLOCK.moveBy(Duration.ofMinutes(10));
        mail.purgeEmailFromAllMailboxes();
    }

    static void say(String person, String calendar, String from, String until, String wakes) {
        service.bean(MyApi.class)
                .change(
                        caller(person),
                        new MyApi.SayView(
                                person, person + "@example.org", "Europe/Oslo", from, until, calendar, wakes, null));
    }

    static Caller caller(String person) {
        return service.bean(Teams.class).callerNamed(person).orElseThrow();
    }

    /** Makes a task that goes well once the file of its name is there. */
    static void breaks(String name, String more) {
        service.task(name, "test -e \"" + folder.resolve(name) + "\" || { echo no such sale; exit 3; }", more);
    }

    static void mend(String name) throws IOException {
        Files.writeString(folder.resolve(name), "");
    }

    static Run run(String job) {
        return service.ended(service.start(job));
    }

    static List<String> mails() {
        return Arrays.stream(mail.getReceivedMessages())
                .map(TellingTest::line)
                .sorted()
                .toList();
    }

    static String line(MimeMessage mail) {
        try {
            return mail.getAllRecipients()[0] + ": " + mail.getSubject().replaceAll(" \\(run \\d+\\)", "");
        } catch (MessagingException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The plain text of a mail. */
    static String text(Part part) throws MessagingException, IOException {
        if (part.getContent() instanceof Multipart parts) {
            return text(parts.getBodyPart(0));
        }
        return String.valueOf(part.getContent());
    }

    /** @param about what the mails are about: others of before may still come */
    static void awaitMails(String about, String... expected) {
        List<String> wanted = Arrays.stream(expected).sorted().toList();
        try {
            Await.until("all mails are there", () -> {
                service.bean(Courier.class).ring();
                return mails(about).equals(wanted);
            });
        } catch (AssertionError e) {
            assertThat(mails(about)).isEqualTo(wanted);
        }
    }

    static MimeMessage about(String what) {
        return Arrays.stream(mail.getReceivedMessages())
                .filter(each -> line(each).contains(what))
                .findFirst()
                .orElseThrow();
    }

    static List<String> mails(String about) {
        return mails().stream()
                .filter(line -> Pattern.compile(about).matcher(line).find())
                .toList();
    }

    static FaultRecord fault(String job) {
        long id = service.bean(Jobs.class).named(job).orElseThrow().id();
        return service.bean(FaultLedger.class).current(id).orElseThrow();
    }
}
