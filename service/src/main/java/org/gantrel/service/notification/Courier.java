package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.data.domain.Limit;
import org.springframework.mail.MailException;
import org.springframework.mail.SimpleMailMessage;
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
            SmtpSender.to(server).send(mail);
            return "";
        } catch (MailException e) {
            LOG.warn("mail {} to {} was not taken: {}", delivery.id(), delivery.address(), e.getMessage());
            return String.valueOf(e.getMostSpecificCause().getMessage());
        }
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
