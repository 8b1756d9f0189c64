package org.gantrel.service.journal;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.gantrel.core.event.EventType;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Writes events that somebody from outside can bring about, such as a refused sign-in, at most so many of a kind in a minute:
 * the journal is read by everybody, and nobody may flood it. What was left out is counted, and told with the next one.
 */
@Component
public class Notices {

    private static final Logger LOG = LoggerFactory.getLogger(Notices.class);
    private static final int MOST_A_MINUTE = 60;
    private static final Duration MINUTE = Duration.ofMinutes(1);

    private static final class Ration {
        private Instant since = Instant.EPOCH;
        private int told;
        private int leftOut;
    }

    private final Journal journal;
    private final Clock clock;
    private final Map<EventType, Ration> rations = new ConcurrentHashMap<>();

    Notices(Journal journal, Clock clock) {
        this.journal = journal;
        this.clock = clock;
    }

    /** Tells of something in a transaction of its own; what goes wrong with that changes nothing for the caller. */
    public void tell(EventType type, String team, Map<String, Object> about) {
        int leftOut = leftOut(type);
        if (leftOut < 0) {
            return;
        }
        Map<String, Object> all = new LinkedHashMap<>(about);
        if (leftOut > 0) {
            all.put("left-out", leftOut);
        }
        try {
            journal.write(type.type(), team, all);
        } catch (RuntimeException e) {
            LOG.warn("{} could not be written into the journal", type.word(), e);
        }
    }

    /** How many of its kind have been left out before; below zero where this one is too. */
    private int leftOut(EventType type) {
        Ration ration = rations.computeIfAbsent(type, key -> new Ration());
        Instant now = clock.instant();
        synchronized (ration) {
            if (Duration.between(ration.since, now).abs().compareTo(MINUTE) >= 0) {
                ration.since = now;
                ration.told = 0;
            }
            if (ration.told >= MOST_A_MINUTE) {
                ration.leftOut++;
                return -1;
            }
            ration.told++;
            int before = ration.leftOut;
            ration.leftOut = 0;
            return before;
        }
    }
}
