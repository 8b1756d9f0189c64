package org.gantrel.service.notification;

import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.net.ConnectException;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.settings.Settings;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.web.util.HtmlUtils;

/** Sends mails; those about one fault are one thread of the receiver's mail program (RFC 5322, 3.6.4). */
final class Mails implements Sender, AutoCloseable {

    private final Settings.Mail server;
    private final List<MailLine> lines;

    private final Function<DeliveryRecord, Attachments> attachments;

    /** @param attachments what goes along with a message */
    Mails(Settings.Mail server, Function<DeliveryRecord, Attachments> attachments) {
        this.attachments = attachments;
        this.server = server;
        this.lines =
                server.all().stream().map(SmtpSender::to).map(MailLine::new).toList();
    }

    @Override
    public String send(DeliveryRecord delivery) {
        Attachments along = attachments.apply(delivery);
        String said = "";
        for (MailLine line : lines) {
            Tried tried = send(line, delivery, along);
            if (tried.answered()) {
                return tried.said();
            }
            said += (said.isEmpty() ? "" : "; ") + tried.said();
        }
        return said;
    }

    /** @param answered whether anybody answered; where nobody did, the next server is asked */
    private record Tried(boolean answered, String said) {}

    private Tried send(MailLine line, DeliveryRecord delivery, Attachments along) {
        try {
            MimeMessage mail = line.message();
            var helper = new MimeMessageHelper(
                    mail, !delivery.html().isEmpty() || !along.files().isEmpty(), StandardCharsets.UTF_8.name());
            helper.setFrom(server.from());
            helper.setTo(delivery.address());
            helper.setSubject(delivery.subject());
            if (delivery.html().isEmpty()) {
                helper.setText(text(delivery, along));
            } else {
                helper.setText(text(delivery, along), html(delivery, along));
            }
            for (Attachments.File file : along.files()) {
                helper.addAttachment(
                        file.name().replaceAll("[/\\p{Cntrl}]", "_"),
                        file.path().toFile());
            }
            mail.setHeader("Auto-Submitted", "auto-generated");
            delivery.fault().ifPresent(fault -> thread(mail, fault));
            line.send(mail);
            return new Tried(true, "");
        } catch (MessagingException e) {
            return new Tried(!nobodyThere(e), said(e));
        }
    }

    /** What is at the bottom of it, in the other side's own words. */
    private static String said(Throwable error) {
        Throwable bottom = error;
        while (bottom.getCause() != null && bottom.getCause() != bottom) {
            bottom = bottom.getCause();
        }
        return String.valueOf(bottom.getMessage()).strip();
    }

    private static String text(DeliveryRecord delivery, Attachments along) {
        return along.left().isEmpty()
                ? delivery.body()
                : delivery.body().stripTrailing() + "\n\n" + String.join("\n", along.left()) + "\n";
    }

    private static String html(DeliveryRecord delivery, Attachments along) {
        String left = along.left().stream()
                .map(line -> "<p>" + HtmlUtils.htmlEscape(line, StandardCharsets.UTF_8.name()) + "</p>")
                .collect(Collectors.joining("\n"));
        int end = delivery.html().lastIndexOf("</main>");
        return left.isEmpty() || end < 0
                ? delivery.html()
                : delivery.html().substring(0, end) + left + "\n"
                        + delivery.html().substring(end);
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
        }
        return false;
    }

    /** Hangs up. */
    @Override
    public void close() {
        lines.forEach(MailLine::close);
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
