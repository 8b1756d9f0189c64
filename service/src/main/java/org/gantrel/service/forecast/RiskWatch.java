package org.gantrel.service.forecast;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.RejectedExecutionException;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.stream.Collectors;
import org.gantrel.core.event.EventType;
import org.gantrel.core.text.Words;
import org.gantrel.service.forecast.Deadlines.Deadline;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/** Tells of deadlines that will probably be missed while there is time to do something: once for each start of a schedule. */
@Component
class RiskWatch implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(RiskWatch.class);

    private static final long EVERY_MILLIS = 60_000;

    /** A forecast of very many schedules takes its time: no more than one part of so many of a thread goes into it. */
    private static final long SHARE = 400;

    /** A lane that is closed for a moment puts nobody at risk. */
    private static final Duration STANDING = Duration.ofMinutes(2);

    /** What was told of is looked for so far back, for a service that was started meanwhile. */
    private static final Duration BACK = Duration.ofDays(3);

    private final Deadlines deadlines;
    private final Journal journal;
    private final Clock clock;
    private final ScheduledExecutorService rounds = Threads.timer("risks");
    /** Since when each has been at risk. */
    private final Map<String, Instant> since = new HashMap<>();

    private final Set<String> told = new HashSet<>();

    RiskWatch(Deadlines deadlines, Journal journal, Clock clock) {
        this.deadlines = deadlines;
        this.journal = journal;
        this.clock = clock;
        next(EVERY_MILLIS);
    }

    private void next(long millis) {
        try {
            rounds.schedule(
                    () -> {
                        long begin = System.nanoTime();
                        round();
                        long took = TimeUnit.NANOSECONDS.toMillis(System.nanoTime() - begin);
                        next(Math.max(EVERY_MILLIS, took * SHARE));
                    },
                    millis,
                    TimeUnit.MILLISECONDS);
        } catch (RejectedExecutionException e) {
            LOG.debug("the service stops", e);
        }
    }

    /** Goes round once. */
    synchronized void round() {
        try {
            Instant now = clock.instant();
            List<Deadline> atRisk = deadlines.atRisk();
            Set<String> names = atRisk.stream().map(RiskWatch::name).collect(Collectors.toSet());
            since.keySet().retainAll(names);
            for (Deadline each : atRisk) {
                Instant begin = since.computeIfAbsent(name(each), key -> now);
                if (!begin.plus(STANDING).isAfter(now) && told.add(name(each))) {
                    tell(each, now);
                }
            }
            told.removeIf(name -> !names.contains(name) && isOver(name, now));
        } catch (Throwable e) {
            LOG.warn("a look at the deadlines was broken off", e);
        }
    }

    /** What makes a start of a schedule one and the same, as it stands in the journal. */
    private static String name(Deadline deadline) {
        return "\"planned\":\"" + deadline.plannedAt() + "\",\"schedule\":\"" + deadline.schedule() + "\",\"job\":\""
                + deadline.job() + "\"";
    }

    /** Whether a start was planned too long ago for its deadline to be asked about again. */
    private static boolean isOver(String name, Instant now) {
        return Instant.parse(name.split("\"")[3]).plus(BACK).isBefore(now);
    }

    private void tell(Deadline deadline, Instant now) {
        if (journal.holdsSince(EventType.JOB_AT_RISK.type(), name(deadline), now.minus(BACK))) {
            return;
        }
        ZoneId zone = ZoneId.of(deadline.zone());
        String by = deadline.late() == null ? "" : ", by " + Words.duration(deadline.late());
        String because = deadline.because() == null ? "" : ": " + deadline.because();
        // in the order of the name
        var about = new LinkedHashMap<String, Object>();
        about.put("planned", deadline.plannedAt().toString());
        about.put("schedule", deadline.schedule());
        about.put("job", deadline.job());
        about.put("deadline", deadline.deadline().toString());
        about.put(
                "message",
                deadline.job() + " will probably miss its deadline, " + Words.moment(deadline.deadline(), zone) + by
                        + because);
        journal.write(EventType.JOB_AT_RISK.type(), deadline.team(), about);
    }

    @Override
    public void destroy() {
        rounds.shutdownNow();
    }
}
