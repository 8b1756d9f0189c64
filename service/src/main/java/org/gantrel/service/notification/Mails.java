package org.gantrel.service.notification;

import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.internet.AddressException;
import jakarta.mail.internet.InternetAddress;
import jakarta.mail.internet.MimeMessage;
import jakarta.mail.util.SharedByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.net.ConnectException;
import java.net.NoRouteToHostException;
import java.net.SocketTimeoutException;
import java.net.UnknownHostException;
import java.nio.charset.StandardCharsets;
import java.util.Date;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Future;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Threads;
import org.springframework.mail.javamail.MimeMessageHelper;
import org.springframework.web.util.HtmlUtils;

/** Sends mails; those about one fault are one thread of the receiver's mail program (RFC 5322, 3.6.4). */
final class Mails implements Sender, AutoCloseable {

    /** Texts that are written while others go; a few, as each is quickly written. */
    private static final int AHEAD = 4;

    /** Those that go to several are not always side by side. */
    private static final int KEPT = 32;

    private final Settings.Mail server;
    private final List<MailLine> lines;
    private final Function<DeliveryRecord, Attachments> attachments;
    private final ExecutorService writer = Threads.pool("mail-writer", 1);
    private final Map<Alike, Future<byte[]>> written = new LinkedHashMap<>();

    /** What mails have in common that differ in nothing but whom they go to and when. */
    private record Alike(String subject, String text, String html, Optional<Long> fault) {

        static Alike of(DeliveryRecord delivery) {
            return new Alike(delivery.subject(), delivery.body(), delivery.html(), delivery.fault());
        }
    }

    /** A mail of one that was written before, with a number of its own. */
    private static final class Copy extends MimeMessage {

        Copy(Session session, byte[] whole) throws MessagingException {
            super(session, new SharedByteArrayInputStream(whole));
        }

        void numberAnew() throws MessagingException {
            updateMessageID();
        }
    }

    /** @param attachments what goes along with a message */
    Mails(Settings.Mail server, Function<DeliveryRecord, Attachments> attachments) {
        this.attachments = attachments;
        this.server = server;
        this.lines =
                server.all().stream().map(SmtpSender::to).map(MailLine::new).toList();
    }

    @Override
    public void next(List<DeliveryRecord> likely) {
        likely.stream()
                .filter(each -> each.attach().isEmpty())
                .map(Alike::of)
                .distinct()
                .limit(AHEAD)
                .forEach(this::whole);
    }

    @Override
    public String send(DeliveryRecord delivery) {
        MimeMessage mail;
        try {
            mail = ready(delivery);
        } catch (MessagingException e) {
            return said(e);
        }
        String said = "";
        for (MailLine line : lines) {
            try {
                line.send(mail);
                return "";
            } catch (MessagingException e) {
                if (!nobodyThere(e)) {
                    return said(e);
                }
                said += (said.isEmpty() ? "" : "; ") + said(e);
            }
        }
        return said;
    }

    private MimeMessage ready(DeliveryRecord delivery) throws MessagingException {
        MimeMessage mail;
        if (delivery.attach().isEmpty()) {
            mail = copy(whole(Alike.of(delivery)));
        } else {
            mail = write(Alike.of(delivery), attachments.apply(delivery));
        }
        InternetAddress[] to = InternetAddress.parse(delivery.address());
        if (to.length != 1) {
            throw new AddressException("not one address", delivery.address());
        }
        mail.setRecipient(MimeMessage.RecipientType.TO, to[0]);
        mail.setSentDate(new Date());
        return mail;
    }

    private MimeMessage copy(Future<byte[]> whole) throws MessagingException {
        try {
            var copy = new Copy(lines.get(0).session(), whole.get());
            copy.numberAnew();
            return copy;
        } catch (ExecutionException e) {
            throw e.getCause() instanceof MessagingException trouble
                    ? trouble
                    : new MessagingException("it cannot be written: " + e.getCause(), e);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new MessagingException("interrupted while it was written", e);
        }
    }

    /** The mail with every part encoded, so that it only has to be handed over; it is written once for all that get it. */
    private Future<byte[]> whole(Alike alike) {
        Future<byte[]> known = written.get(alike);
        if (known == null) {
            if (written.size() >= KEPT) {
                written.remove(written.keySet().iterator().next());
            }
            known = writer.submit(() -> {
                var bytes = new ByteArrayOutputStream();
                write(alike, Attachments.NONE).writeTo(bytes);
                return bytes.toByteArray();
            });
            written.put(alike, known);
        }
        return known;
    }

    private MimeMessage write(Alike alike, Attachments along) throws MessagingException {
        MimeMessage mail = lines.get(0).message();
        var helper = new MimeMessageHelper(
                mail, !alike.html().isEmpty() || !along.files().isEmpty(), StandardCharsets.UTF_8.name());
        helper.setFrom(server.from());
        helper.setSubject(alike.subject());
        if (alike.html().isEmpty()) {
            helper.setText(text(alike, along));
        } else {
            helper.setText(text(alike, along), html(alike, along));
        }
        for (Attachments.File file : along.files()) {
            helper.addAttachment(
                    file.name().replaceAll("[/\\p{Cntrl}]", "_"), file.path().toFile());
        }
        mail.setHeader("Auto-Submitted", "auto-generated");
        alike.fault().ifPresent(fault -> thread(mail, fault));
        mail.saveChanges();
        return mail;
    }

    /** What is at the bottom of it, in the other side's own words. */
    private static String said(Throwable error) {
        Throwable bottom = error;
        while (bottom.getCause() != null && bottom.getCause() != bottom) {
            bottom = bottom.getCause();
        }
        return String.valueOf(bottom.getMessage()).strip();
    }

    private static String text(Alike alike, Attachments along) {
        return along.left().isEmpty()
                ? alike.text()
                : alike.text().stripTrailing() + "\n\n" + String.join("\n", along.left()) + "\n";
    }

    private static String html(Alike alike, Attachments along) {
        String left = along.left().stream()
                .map(line -> "<p>" + HtmlUtils.htmlEscape(line, StandardCharsets.UTF_8.name()) + "</p>")
                .collect(Collectors.joining("\n"));
        int end = alike.html().lastIndexOf("</main>");
        return left.isEmpty() || end < 0
                ? alike.html()
                : alike.html().substring(0, end) + left + "\n" + alike.html().substring(end);
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
        writer.shutdownNow();
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
