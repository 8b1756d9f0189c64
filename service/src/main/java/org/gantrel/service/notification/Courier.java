package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Properties;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.settings.Settings.Mail.Encryption;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.data.domain.Limit;
import org.springframework.mail.MailException;
import org.springframework.mail.SimpleMailMessage;
import org.springframework.mail.javamail.JavaMailSenderImpl;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Takes mails from the outbox to the mail server over SMTP, in a thread of its own. A mail is marked as sent after the
 * server has taken it: should the service die in between, the mail goes out twice rather than not at all.
 */
@Component
class Courier implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(Courier.class);
    private static final Duration LONGEST_SLEEP = Duration.ofMinutes(1);
    private static final int MOST_AT_ONCE = 50;

    private final DeliveryStore store;
    private final Settings settings;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Object bell = new Object();
    private boolean rung;
    private volatile Thread thread;

    Courier(DeliveryStore store, Settings settings, TransactionTemplate transaction, Clock clock) {
        this.store = store;
        this.settings = settings;
        this.transaction = transaction;
        this.clock = clock;
    }

    void wakeAfterCommit() {
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCommit() {
                ring();
            }
        });
    }

    @Override
    public void start() {
        if (settings.mail().isEmpty()) {
            LOG.info("no mail server is set (mail-host), so mails wait in the outbox");
        }
        thread = new Thread(this::run, "courier");
        thread.setDaemon(true);
        thread.start();
    }

    @Override
    public void stop() {
        thread = null;
        ring();
    }

    @Override
    public boolean isRunning() {
        return thread != null;
    }

    private void ring() {
        synchronized (bell) {
            rung = true;
            bell.notifyAll();
        }
    }

    private void run() {
        while (thread == Thread.currentThread()) {
            try {
                settings.mail().ifPresent(this::deliver);
                sleep();
            } catch (RuntimeException e) {
                LOG.error("the courier met a fault and goes on", e);
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    private void deliver(Settings.Mail server) {
        for (DeliveryRecord delivery : store.due(clock.instant(), Limit.of(MOST_AT_ONCE))) {
            String error = send(server, delivery);
            transaction.executeWithoutResult(
                    status -> store.findById(delivery.id()).ifPresent(known -> {
                        if (error.isEmpty()) {
                            known.sent(clock.instant());
                        } else {
                            known.failed(error, clock.instant());
                        }
                    }));
        }
    }

    /** Sends one mail; what went wrong, or the empty text. */
    private static String send(Settings.Mail server, DeliveryRecord delivery) {
        var mail = new SimpleMailMessage();
        mail.setFrom(server.from());
        mail.setTo(delivery.address());
        mail.setSubject(delivery.subject());
        mail.setText(delivery.body());
        try {
            sender(server).send(mail);
            return "";
        } catch (MailException e) {
            LOG.warn("mail {} to {} was not taken: {}", delivery.id(), delivery.address(), e.getMessage());
            return String.valueOf(e.getMostSpecificCause().getMessage());
        }
    }

    private static JavaMailSenderImpl sender(Settings.Mail server) {
        var sender = new JavaMailSenderImpl();
        sender.setHost(server.host());
        sender.setPort(server.port());
        sender.setDefaultEncoding("UTF-8");
        sender.setProtocol(server.encryption() == Encryption.TLS ? "smtps" : "smtp");
        Properties properties = sender.getJavaMailProperties();
        String prefix = "mail." + sender.getProtocol() + ".";
        properties.setProperty(prefix + "connectiontimeout", "10000");
        properties.setProperty(prefix + "timeout", "20000");
        properties.setProperty(prefix + "writetimeout", "20000");
        if (server.encryption() == Encryption.STARTTLS) {
            properties.setProperty(prefix + "starttls.required", "true");
        }
        properties.setProperty(prefix + "ssl.checkserveridentity", "true");
        if (!server.user().isEmpty()) {
            sender.setUsername(server.user());
            sender.setPassword(server.password());
            properties.setProperty(prefix + "auth", "true");
        }
        return sender;
    }

    private void sleep() throws InterruptedException {
        Instant now = clock.instant();
        Duration until = settings.mail().isEmpty()
                ? LONGEST_SLEEP
                : store.earliest().map(next -> Duration.between(now, next)).orElse(LONGEST_SLEEP);
        Duration length = until.compareTo(LONGEST_SLEEP) > 0 ? LONGEST_SLEEP : until;
        synchronized (bell) {
            if (!rung && length.toMillis() > 0) {
                bell.wait(length.toMillis());
            }
            rung = false;
        }
    }
}
