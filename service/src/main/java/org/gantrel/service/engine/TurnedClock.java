package org.gantrel.service.engine;

import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.event.EventType;
import org.gantrel.core.text.Words;
import org.gantrel.service.journal.Notices;
import org.gantrel.service.schedule.Accounting;
import org.gantrel.service.time.Absence;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.PutBackSense;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Notices what the clock says in one step of the engine after what it said in the one before, and over a restart: that it
 * was put back, or that it is far ahead at once, because it was put forward or the machine slept. Used by the engine's
 * thread alone.
 */
@Component
class TurnedClock {

    private static final Logger LOG = LoggerFactory.getLogger(TurnedClock.class);

    /** The engine never sleeps so long. */
    private static final Duration FAR_AHEAD = Duration.ofSeconds(30);

    private final Presence presence;
    private final Accounting accounting;
    private final Notices notices;
    private final PutBackSense sense;
    private Absence absence;
    private Optional<Instant> before = Optional.empty();
    private boolean isPutBack;

    TurnedClock(Presence presence, Accounting accounting, Notices notices) {
        this.presence = presence;
        this.accounting = accounting;
        this.notices = notices;
        this.absence = presence.absence();
        this.sense = new PutBackSense(presence.absence().from());
    }

    /** Is told what the clock says as a step begins; says whether it was put back. */
    boolean step(Instant now) {
        Optional<Duration> by = sense.look(now);
        if (by.isPresent()) {
            accounting.clockWentBack();
            String sentence = "the clock was put back by " + Words.duration(by.get())
                    + "; starts after the new time that count as missed or skipped come again";
            LOG.warn(sentence);
            notices.tell(EventType.SERVICE_CLOCK_PUT_BACK, "", Map.of("message", sentence));
            absence = new Absence(now, now, true);
        } else if (before.filter(step -> step.plus(FAR_AHEAD).isBefore(now)).isPresent()) {
            absence = new Absence(before.get(), now, true);
        }
        if (by.isEmpty() && isPutBack && !accounting.plansAnew()) {
            // a service that dies before that leaves it to the next
            presence.follow(now);
            isPutBack = false;
        }
        isPutBack |= by.isPresent();
        before = Optional.of(now);
        return by.isPresent();
    }

    /** When the service was not there last, or nobody could work in it. */
    Absence absence() {
        return absence;
    }
}
