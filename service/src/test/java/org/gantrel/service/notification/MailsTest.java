package org.gantrel.service.notification;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.GreenMailUtil;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.internet.MimeMultipart;
import java.util.Date;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.settings.Settings;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A mail")
class MailsTest {

    private static final int NOBODY = 1;

    private static Settings.Mail server(int port, Integer... spares) {
        return new Settings.Mail(
                "127.0.0.1",
                port,
                "gantrel@example.org",
                Settings.Mail.Encryption.NONE,
                "",
                "",
                List.of(spares).stream().map(spare -> "127.0.0.1:" + spare).toList());
    }

    private static DeliveryRecord delivery(String address) {
        DeliveryRecord delivery = mock(DeliveryRecord.class);
        when(delivery.address()).thenReturn(address);
        when(delivery.subject()).thenReturn("settle-tickets failed");
        when(delivery.body()).thenReturn("exit code 1");
        when(delivery.html()).thenReturn("");
        when(delivery.fault()).thenReturn(Optional.empty());
        return delivery;
    }

    @Test
    @DisplayName(
            "goes by the next server where nobody answers at the one before, once, and not where one has refused it")
    void goesByTheNext() throws Exception {
        var mail = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        try {
            int port = mail.getSmtp().getPort();
            assertThat(new Mails(server(NOBODY, port), delivery -> Attachments.NONE).send(delivery("duty@example.org")))
                    .isEmpty();
            assertThat(mail.getReceivedMessages()).hasSize(1);
            assertThat(new Mails(server(port, NOBODY), delivery -> Attachments.NONE).send(delivery("duty@example.org")))
                    .isEmpty();
            assertThat(mail.getReceivedMessages()).hasSize(2);
            assertThat(new Mails(server(port, port), delivery -> Attachments.NONE)
                            .send(delivery("two at signs@@example.org")))
                    .isNotEmpty();
            assertThat(mail.getReceivedMessages()).hasSize(2);
        } finally {
            mail.stop();
        }
        assertThat(new Mails(server(NOBODY, NOBODY), delivery -> Attachments.NONE).send(delivery("duty@example.org")))
                .contains("; ");
    }

    @Test
    @DisplayName("that says the same to several goes to each by itself, with a number of its own, whole")
    void sharesWhatItSays() throws Exception {
        var mail = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
        mail.start();
        try (var mails = new Mails(server(mail.getSmtp().getPort()), delivery -> Attachments.NONE)) {
            for (String to : List.of("duty@example.org", "Mara Holt <mara@example.org>", "ivo@example.org")) {
                DeliveryRecord delivery = delivery(to);
                when(delivery.subject()).thenReturn("f\u00e4llig: settle-tickets");
                when(delivery.html()).thenReturn("<main><p>\u00fcber 3 h</p></main>");
                when(delivery.fault()).thenReturn(Optional.of(7L));
                mails.next(List.of(delivery));
                assertThat(mails.send(delivery)).isEmpty();
            }
            List<MimeMessage> got = List.of(mail.getReceivedMessages());
            assertThat(got)
                    .extracting(each -> each.getHeader("To")[0])
                    .containsExactly("duty@example.org", "Mara Holt <mara@example.org>", "ivo@example.org");
            assertThat(got).extracting(MimeMessage::getMessageID).doesNotHaveDuplicates();
            for (MimeMessage each : got) {
                assertThat(each.getSubject()).isEqualTo("f\u00e4llig: settle-tickets");
                assertThat(each.getHeader("References")).containsExactly("<fault-7@example.org>");
                assertThat(each.getSentDate()).isCloseTo(new Date(), 60_000);
                String raw = GreenMailUtil.getWholeMessage(each);
                assertThat(raw).containsOnlyOnce("Date:").containsOnlyOnce("\nMessage-ID:");
                var parts = (MimeMultipart) ((MimeMultipart) ((MimeMultipart) each.getContent())
                                .getBodyPart(0)
                                .getContent())
                        .getBodyPart(0)
                        .getContent();
                assertThat(parts.getBodyPart(0).getContent()).isEqualTo("exit code 1");
                assertThat(parts.getBodyPart(1).getContent().toString()).contains("\u00fcber 3 h");
            }
        } finally {
            mail.stop();
        }
    }
}
