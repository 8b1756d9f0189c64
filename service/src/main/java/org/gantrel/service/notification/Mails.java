package org.gantrel.service.notification;

import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.net.ConnectException;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.settings.Settings;
import org.springframework.mail.MailException;
import org.springframework.mail.MailSendException;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.mail.javamail.MimeMessageHelper;

/** Sends mails; those about one fault are one thread of the receiver's mail program (RFC 5322, 3.6.4). */
final class Mails implements Sender {
    private final Settings.Mail server;
    private final List<JavaMailSenderImpl> senders;

    Mails(Settings.Mail server) {
        this.server = server;
        this.senders = server.all().stream().map(SmtpSender::to).toList();
    }

    @Override
    public String send(DeliveryRecord delivery) {
        String said = "";
        for (JavaMailSenderImpl sender : senders) {
            Tried tried = send(sender, delivery);
            if (tried.answered()) {
                return tried.said();
            }
            said += (said.isEmpty() ? "" : "; ") + tried.said();
        }
        return said;
    }

    /** @param answered whether anybody answered; where nobody did, the next server is asked */
    private record Tried(boolean answered, String said) {}

    private Tried send(JavaMailSenderImpl sender, DeliveryRecord delivery) {
        try {
            MimeMessage mail = sender.createMimeMessage();
            var helper = new MimeMessageHelper(mail, !delivery.html().isEmpty(), StandardCharsets.UTF_8.name());
            helper.setFrom(server.from());
            helper.setTo(delivery.address());
            helper.setSubject(delivery.subject());
            if (delivery.html().isEmpty()) {
                helper.setText(delivery.body());
            } else {
                helper.setText(delivery.body(), delivery.html());
            }
            mail.setHeader("Auto-Submitted", "auto-generated");
            delivery.fault().ifPresent(fault -> thread(mail, fault));
            sender.send(mail);
            return new Tried(true, "");
        } catch (MailException e) {
            return new Tried(
                    !nobodyThere(e), String.valueOf(e.getMostSpecificCause().getMessage()));
        } catch (MessagingException e) {
            return new Tried(true, String.valueOf(e.getMessage()));
        }
    }

    /** Whether the server was not reached at all; then it cannot have taken the mail either. */
    private static boolean nobodyThere(Throwable error) {
        for (Throwable each = error; each != null; each = each.getCause()) {
            if (each instanceof ConnectException
                    || each instanceof UnknownHostException
                    || each instanceof NoRouteToHostException
                    || each instanceof SocketTimeoutException
                            && "Connect timed out".equalsIgnoreCase(each.getMessage())) {
                return true;
            }
            if (each instanceof MailSendException sending
                    && Arrays.stream(sending.getMessageExceptions()).anyMatch(Mails::nobodyThere)) {
                return true;
            }
        }
        return false;
    }

    private void thread(MimeMessage mail, long fault) {
        String domain = server.from().replaceAll(".*@", "").replaceAll("[^A-Za-z0-9.-]", "");
        try {
            mail.setHeader("References", "<fault-" + fault + "@" + domain + ">");
        } catch (MessagingException e) {
            throw new IllegalStateException(e);
        }
    }
}
