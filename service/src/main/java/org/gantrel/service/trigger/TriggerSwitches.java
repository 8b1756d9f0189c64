package org.gantrel.service.trigger;

import java.time.Clock;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Which triggers are switched off. */
@Component
class TriggerSwitches {

    private final TriggerSwitchStore store;
    private final Jobs jobs;
    private final Journal journal;
    private final Clock clock;
    /** Of those that were switched on since the service started. */
    private final Map<String, Instant> onSince = new ConcurrentHashMap<>();

    private final CommittedCache<String, Set<String>> off = new CommittedCache<>(1);

    TriggerSwitches(TriggerSwitchStore store, Jobs jobs, Journal journal, Clock clock) {
        this.store = store;
        this.jobs = jobs;
        this.journal = journal;
        this.clock = clock;
    }

    /** The addresses of those that are off. */
    Set<String> off() {
        return off.get("", key -> store.findAll().stream()
                .map(each -> Listening.address(jobs.withId(each.jobId()).name(), each.triggerName()))
                .collect(Collectors.toUnmodifiableSet()));
    }

    /**
     * Whether a trigger hears of what happened at some time. Events are read some moments after they happened: what happened
     * while it was off starts nothing, though it is on when that is read.
     */
    boolean hears(String address, Instant at) {
        return !off().contains(address) && !at.isBefore(onSince.getOrDefault(address, Instant.MIN));
    }

    Optional<TriggerSwitch> of(long job, String trigger) {
        return store.findByJobIdAndTriggerName(job, trigger);
    }

    /** Switches a trigger; says whether it was the other way before. */
    @Transactional
    public boolean set(JobEntry job, String trigger, boolean on, String by) {
        Optional<TriggerSwitch> known = store.findByJobIdAndTriggerName(job.id(), trigger);
        if (known.isEmpty() == on) {
            return false;
        }
        if (on) {
            onSince.put(Listening.address(job.name(), trigger), clock.instant());
        }
        known.ifPresentOrElse(
                store::delete, () -> store.save(new TriggerSwitch(job.id(), trigger, by, clock.instant())));
        journal.write("gantrel.job.changed", job.team(), Map.of("job", job.name(), "trigger", trigger));
        off.changedAll();
        return true;
    }
}
