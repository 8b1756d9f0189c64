package org.gantrel.service.notification;

import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.nio.charset.StandardCharsets;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.settings.Settings;
import org.springframework.mail.MailException;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.mail.javamail.MimeMessageHelper;

/** Sends mails; those about one fault are one thread of the receiver's mail program (RFC 5322, 3.6.4). */
final class Mails implements Sender {
    private final Settings.Mail server;
    private final JavaMailSenderImpl sender;

    Mails(Settings.Mail server) {
        this.server = server;
        this.sender = SmtpSender.to(server);
    }

    @Override
    public String send(DeliveryRecord delivery) {
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
            return "";
        } catch (MailException e) {
            return String.valueOf(e.getMostSpecificCause().getMessage());
        } catch (MessagingException e) {
            return String.valueOf(e.getMessage());
        }
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
