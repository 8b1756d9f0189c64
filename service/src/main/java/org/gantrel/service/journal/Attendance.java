package org.gantrel.service.journal;

import java.time.Duration;
import java.util.Map;
import org.gantrel.core.event.EventType;
import org.gantrel.core.text.Words;
import org.gantrel.service.time.Absence;
import org.gantrel.service.time.Presence;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;

/** Tells that the service came, went, and was away. */
@Component
class Attendance implements SmartLifecycle {

    private static final Duration NOTICED = Duration.ofSeconds(30);

    private final Notices notices;
    private final Presence presence;
    private volatile boolean running;

    Attendance(Notices notices, Presence presence) {
        this.notices = notices;
        this.presence = presence;
    }

    @Override
    public void start() {
        Absence absence = presence.absence();
        Duration away = Duration.between(absence.from(), absence.until());
        if (away.compareTo(NOTICED) >= 0) {
            notices.tell(
                    EventType.SERVICE_WAS_DOWN,
                    "",
                    Map.of(
                            "since",
                            absence.from().toString(),
                            "message",
                            "the service was away for " + Words.duration(away)));
        }
        notices.tell(EventType.SERVICE_STARTED, "", Map.of("message", "the service started"));
        running = true;
    }

    @Override
    public void stop() {
        running = false;
        notices.tell(EventType.SERVICE_STOPPED, "", Map.of("message", "the service was stopped"));
    }

    @Override
    public boolean isRunning() {
        return running;
    }

    /** After all who read the journal have begun to, and before they end. */
    @Override
    public int getPhase() {
        return Integer.MAX_VALUE;
    }
}
