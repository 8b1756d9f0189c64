package org.gantrel.service.traffic;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.HashSet;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.gantrel.core.event.EventType;
import org.gantrel.core.lane.Crowding;
import org.gantrel.core.run.Limits;
import org.gantrel.core.text.Words;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.Notices;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Resumed;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/** Goes round every few seconds and says which runs are late, and which take far longer than usual. */
@Component
public class Watchman implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(Watchman.class);
    private static final DateTimeFormatter LOCAL = DateTimeFormatter.ofPattern("HH:mm", Locale.ENGLISH);
    private static final long ROUND_SECONDS = 5;
    private static final Duration CROWDS_EVERY = Duration.ofSeconds(30);

    private final Runs runs;
    private final Ledger ledger;
    private final Demands demands;
    private final RunFacts facts;
    private final LaneWaits waits;
    private final Lanes lanes;
    private final Notices notices;
    private final Journal journal;
    private final Crowding crowding = new Crowding();
    /** The lanes that were crowded since the service started. */
    private final Set<String> looked = new HashSet<>();

    private Instant crowdsLookedAt = Instant.EPOCH;
    private final Clock clock;
    private final ScheduledExecutorService rounds = Threads.timer("watchman");

    Watchman(
            Runs runs,
            Ledger ledger,
            Demands demands,
            RunFacts facts,
            LaneWaits waits,
            Lanes lanes,
            Notices notices,
            Journal journal,
            Resumed resumed,
            Clock clock) {
        this.journal = journal;
        this.waits = waits;
        this.lanes = lanes;
        this.notices = notices;
        this.runs = runs;
        this.ledger = ledger;
        this.demands = demands;
        this.facts = facts;
        this.clock = clock;
        rounds.scheduleWithFixedDelay(resumed.onceDone(this::round), ROUND_SECONDS, ROUND_SECONDS, TimeUnit.SECONDS);
    }

    /** Goes round once. */
    public void round() {
        try {
            Instant now = clock.instant();
            runs.withDeadline().forEach(run -> one(run, () -> late(run, now)));
            runs.underwayAll().stream()
                    .filter(run -> !run.unusuallyLong())
                    .forEach(run -> one(run, () -> unusual(run, now)));
            crowds(now);
        } catch (Throwable e) {
            LOG.warn("a round was broken off", e);
        }
    }

    /** Who waits in lanes is read less often than the rest: there may be thousands. */
    private void crowds(Instant now) {
        if (now.isBefore(crowdsLookedAt.plus(CROWDS_EVERY))) {
            return;
        }
        crowdsLookedAt = now;
        crowding.look(waits.now(), now)
                // a lane may be retired while it is looked at
                .forEach(crowd -> Optional.ofNullable(lanes.all().get(crowd.lane()))
                        .ifPresent(state -> tell(crowd, state.lane().team())));
    }

    private void tell(Crowding.Crowd crowd, String team) {
        if (looked.add(crowd.lane()) && wasTold(crowd)) {
            return;
        }
        String message = Words.count(crowd.waiting(), "run") + " for the lane " + crowd.lane() + " wait, one for "
                + Words.duration(crowd.longest());
        notices.tell(EventType.LANE_CROWDED, team, Map.of("name", crowd.lane(), "what", "crowded", "message", message));
    }

    /** Whether a service before this one has told of it: the run that waits longest was in the crowd already. */
    private boolean wasTold(Crowding.Crowd crowd) {
        return runs.find(crowd.first())
                .filter(run -> journal.holdsSince(
                        EventType.LANE_CROWDED.type(),
                        "\"name\":\"" + crowd.lane() + "\"",
                        run.queuedAt().plus(Crowding.LONG)))
                .isPresent();
    }

    private static void one(Run run, Runnable look) {
        try {
            look.run();
        } catch (Throwable e) {
            LOG.debug("run {} is looked at in the next round", run.number(), e);
        }
    }

    private void late(Run run, Instant now) {
        Instant deadline = run.deadline().orElseThrow();
        if (!run.late() && now.isAfter(deadline)) {
            String time = LOCAL.format(deadline.atZone(run.planned().zone()));
            ledger.late(run.number(), "its deadline of " + time + " came before its end", now);
        }
    }

    private void unusual(Run run, Instant now) {
        Duration takes = Duration.between(run.startedAt().orElse(now), now);
        threshold(run)
                .filter(threshold -> takes.compareTo(threshold) > 0)
                .ifPresent(threshold -> ledger.unusuallyLong(
                        run.number(),
                        "it has taken " + Words.duration(takes) + ", longer than " + Words.duration(threshold)
                                + usualWords(run),
                        now));
    }

    private String usualWords(Run run) {
        return facts.usual(run.jobId())
                .map(usual -> "; it usually takes " + Words.duration(usual))
                .orElse("");
    }

    /** From when on a run takes unusually long: what its job says, or what is learnt from earlier ones. */
    public Optional<Duration> threshold(Run run) {
        Limits limits = demands.rules(run).limits();
        return run.isSweep() ? limits.longAfter() : limits.longFrom(facts.usual(run.jobId()), facts.known(run.jobId()));
    }

    @Override
    public void destroy() {
        rounds.shutdownNow();
    }
}
