package org.gantrel.service.notification;

import jakarta.mail.MessagingException;
import jakarta.mail.Session;
import jakarta.mail.Transport;
import jakarta.mail.internet.MimeMessage;
import java.time.Duration;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.mail.javamail.JavaMailSenderImpl;

/** A connection to a mail server that several mails go by, one after another; it is made when the first one goes. */
final class MailLine implements AutoCloseable {

    private static final Logger LOG = LoggerFactory.getLogger(MailLine.class);

    /** Servers take a limited number of mails by one connection; hardly any as few as that. */
    private static final int MOST_MAILS = 50;

    /** Servers hang up on who says nothing; what was silent for that long is asked whether it still listens. */
    private static final long SILENCE_NANOS = Duration.ofSeconds(5).toNanos();

    private final JavaMailSenderImpl sender;
    private Transport transport;
    private int mails;
    private long used;

    MailLine(JavaMailSenderImpl sender) {
        this.sender = sender;
    }

    MimeMessage message() {
        return sender.createMimeMessage();
    }

    Session session() {
        return sender.getSession();
    }

    /** Sends a mail that is whole; after any trouble the next one goes by a new connection. */
    void send(MimeMessage mail) throws MessagingException {
        boolean sent = false;
        try {
            open().sendMessage(mail, mail.getAllRecipients());
            sent = true;
            used = System.nanoTime();
            mails++;
        } finally {
            if (!sent || mails >= MOST_MAILS) {
                close();
            }
        }
    }

    private Transport open() throws MessagingException {
        if (transport != null && System.nanoTime() - used > SILENCE_NANOS && !transport.isConnected()) {
            close();
        }
        if (transport == null) {
            mails = 0;
            transport = sender.getSession().getTransport(sender.getProtocol());
            transport.connect(sender.getHost(), sender.getPort(), sender.getUsername(), sender.getPassword());
        }
        return transport;
    }

    @Override
    public void close() {
        try {
            if (transport != null) {
                transport.close();
            }
        } catch (MessagingException e) {
            LOG.debug("a mail server's goodbye: {}", e.getMessage());
        } finally {
            transport = null;
        }
    }
}
