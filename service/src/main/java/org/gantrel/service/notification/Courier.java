package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.mail.SmtpSender;
import org.gantrel.service.settings.Settings;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.SmartLifecycle;
import org.springframework.data.domain.Limit;
import org.springframework.mail.MailException;
import org.springframework.mail.SimpleMailMessage;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Takes mails from the outbox to the mail server over SMTP, in a thread of its own. A mail is marked as sent after the
 * server has taken it: should the service die in between, the mail goes out twice rather than not at all.
 */
@Component
class Courier implements SmartLifecycle {

    private static final Logger LOG = LoggerFactory.getLogger(Courier.class);
    private static final Duration LONGEST_SLEEP = Duration.ofMinutes(1);
    private static final Duration PAUSE_AFTER_FAULT = Duration.ofSeconds(1);
    private static final int MOST_AT_ONCE = 50;

    private final DeliveryStore store;
    private final SetAside aside;
    private final Settings settings;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final Object bell = new Object();
    private boolean rung;
    private volatile Thread thread;

    Courier(DeliveryStore store, SetAside aside, Settings settings, TransactionTemplate transaction, Clock clock) {
        this.store = store;
        this.aside = aside;
        this.settings = settings;
        this.transaction = transaction;
        this.clock = clock;
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

    /** Looks at the outbox now. */
    void ring() {
        synchronized (bell) {
            rung = true;
            bell.notifyAll();
        }
    }

    private void run() {
        while (thread == Thread.currentThread()) {
            try {
                Duration until = PAUSE_AFTER_FAULT;
                try {
                    settings.mail().ifPresent(this::deliver);
                    until = untilNext();
                } catch (Throwable e) {
                    LOG.error("the courier met a fault and goes on", e);
                }
                sleep(until);
            } catch (InterruptedException e) {
                return;
            }
        }
    }

    private void deliver(Settings.Mail server) {
        for (DeliveryRecord delivery : store.due(clock.instant(), Limit.of(MOST_AT_ONCE))) {
            aside.attempt(
                    new Thing(Kind.DELIVERY, delivery.id(), "mail " + delivery.id() + " to " + delivery.address(), ""),
                    () -> deliver(server, delivery));
        }
    }

    private void deliver(Settings.Mail server, DeliveryRecord delivery) {
        String error = send(server, delivery);
        transaction.executeWithoutResult(status -> store.findById(delivery.id()).ifPresent(known -> {
            if (error.isEmpty()) {
                known.sent(clock.instant());
            } else {
                known.failed(error, clock.instant());
            }
        }));
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

    private Duration untilNext() {
        Instant now = clock.instant();
        if (settings.mail().isEmpty()) {
            return LONGEST_SLEEP;
        }
        Duration next = store.earliest().map(at -> Duration.between(now, at)).orElse(LONGEST_SLEEP);
        // one that is due all the time, because its record cannot be written, must not keep the thread busy
        return aside.held(Kind.DELIVERY).isEmpty() || next.compareTo(PAUSE_AFTER_FAULT) > 0 ? next : PAUSE_AFTER_FAULT;
    }

    private void sleep(Duration until) throws InterruptedException {
        Duration length = until.compareTo(LONGEST_SLEEP) > 0 ? LONGEST_SLEEP : until;
        synchronized (bell) {
            if (!rung && length.toMillis() > 0) {
                bell.wait(length.toMillis());
            }
            rung = false;
        }
    }
}
