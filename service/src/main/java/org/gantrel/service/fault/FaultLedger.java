package org.gantrel.service.fault;

import jakarta.persistence.EntityManager;
import jakarta.persistence.LockModeType;
import java.time.Clock;
import java.time.Instant;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.event.EventType;
import org.gantrel.core.notification.FaultCourse;
import org.gantrel.core.notification.FaultCourse.Fault;
import org.gantrel.core.notification.FaultCourse.Tell;
import org.gantrel.core.notification.FaultCourse.Told;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Charge;
import org.gantrel.service.run.Run;
import org.springframework.context.event.EventListener;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/** The faults: failures of jobs that go on, each from the first bad end to the good one that closes it. */
@Component
@Transactional
public class FaultLedger {

    private final FaultStore store;
    private final FaultToldStore told;
    private final FaultNoteStore notes;
    private final Jobs jobs;
    private final Journal journal;
    private final EntityManager entities;
    private final Clock clock;
    /** The jobs of which a fault is open; most ends are good ones of jobs that have none, and must not cost a query. */
    private Set<Long> open;

    FaultLedger(
            FaultStore store,
            FaultToldStore told,
            FaultNoteStore notes,
            Jobs jobs,
            Journal journal,
            EntityManager entities,
            Clock clock) {
        this.entities = entities;
        this.jobs = jobs;
        this.journal = journal;
        this.store = store;
        this.told = told;
        this.notes = notes;
        this.clock = clock;
    }

    /** Whether a fault of a job may be open. Asked by the one thread that opens and closes faults. */
    @Transactional(readOnly = true)
    public synchronized boolean mayBeOpen(long job) {
        if (open == null) {
            open = new HashSet<>(store.openJobs());
        }
        return open.contains(job);
    }

    /** Whether any fault is open. */
    @Transactional(readOnly = true)
    public synchronized boolean isAnyOpen() {
        mayBeOpen(0);
        return !open.isEmpty();
    }

    /** Takes in a bad end: it opens a fault, or adds to the one that is open. */
    @Transactional(propagation = Propagation.MANDATORY)
    public FaultRecord takeIn(Run run, Instant at) {
        mayBeOpen(run.jobId());
        Optional<FaultRecord> known = current(run.jobId());
        known.ifPresent(fault -> {
            hold(fault);
            fault.takeIn(run, at);
        });
        synchronized (this) {
            open.add(run.jobId());
        }
        FaultRecord fault = known.orElseGet(() -> store.save(new FaultRecord(run, at)));
        changed(fault);
        return fault;
    }

    /** The fault of a job that is open. */
    @Transactional(readOnly = true)
    public Optional<FaultRecord> current(long job) {
        return store.findFirstByJobIdAndClosedAtIsNullOrderByIdDesc(job);
    }

    /** All faults that go on, the oldest first. */
    @Transactional(readOnly = true)
    public List<FaultRecord> open() {
        return store.findByClosedAtIsNullOrderById();
    }

    @Transactional(readOnly = true)
    public Optional<FaultRecord> find(long id) {
        return store.findById(id);
    }

    /** The same, to be changed: whoever else changes it waits until that is through. */
    @Transactional(propagation = Propagation.MANDATORY)
    public Optional<FaultRecord> findToChange(long id) {
        Optional<FaultRecord> found = store.findById(id);
        found.ifPresent(this::hold);
        return found;
    }

    /** People see to it while time goes on: neither is to write over what the other has just written. */
    private void hold(FaultRecord fault) {
        entities.refresh(fault, LockModeType.PESSIMISTIC_WRITE);
    }

    /** Closes a fault upon a good end. Whether the job's are open is known to be unsure until that is committed. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void close(FaultRecord fault, Run run, Instant at) {
        fault.close(run.number(), at);
        journal.write(
                EventType.JOB_RECOVERED.type(),
                run.number(),
                jobs.teamOf(run.jobId()),
                Map.of(
                        "job",
                        run.jobName(),
                        "state",
                        run.state().word(),
                        "cause",
                        run.cause().word(),
                        "since",
                        fault.openedAt().toString()));
        changed(fault);
        forget();
    }

    /** Closes the fault of a job that was taken out of use. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void retired(long job, Instant at) {
        current(job).ifPresent(fault -> {
            fault.closeWithout(at);
            write(fault, "gantrel", "the job is out of use");
        });
        forget();
    }

    /** Reads anew which are open: a transaction that closed one may be taken back. */
    private synchronized void forget() {
        open = null;
    }

    /** A fault as the rules look at it. */
    @Transactional(readOnly = true)
    public Fault value(FaultRecord fault) {
        Map<String, Told> by =
                told.findByFaultId(fault.id()).stream().collect(Collectors.toMap(FaultTold::rule, FaultTold::value));
        return new Fault(
                fault.badEnds(), !fault.seenBy().isEmpty(), fault.closedAt().isPresent(), by);
    }

    /** Notes that a rule has told of a fault. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void note(FaultRecord fault, Tell tell, Instant now) {
        FaultTold row = told.findByFaultIdAndRule(fault.id(), tell.rule().name())
                .orElseGet(() -> new FaultTold(fault.id(), tell.rule().name()));
        Optional<Told> before = tell.why() == FaultCourse.Why.FIRST ? Optional.empty() : Optional.of(row.value());
        row.told(FaultCourse.after(before, tell, now));
        told.saveAndFlush(row);
    }

    /** Works out when the next thing is due of a fault. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void plan(FaultRecord fault, List<NotificationRule> rules) {
        fault.next(FaultCourse.next(value(fault), rules));
    }

    /** Plans a fault anew, the clock having been put back: what was told after the new time counts as told now. */
    @Transactional(propagation = Propagation.MANDATORY)
    public void clockWentBack(FaultRecord fault, List<NotificationRule> rules, Instant now) {
        told.findByFaultId(fault.id()).forEach(row -> row.told(FaultCourse.putBack(row.value(), now)));
        plan(fault, rules);
    }

    /** The faults of which something is due. */
    @Transactional(readOnly = true)
    public List<FaultRecord> due(Instant now, int most) {
        return store.due(now, Limit.of(most));
    }

    /** When something is due next. */
    @Transactional(readOnly = true)
    public Optional<Instant> earliest() {
        return store.earliest();
    }

    /** Whoever sees to a run that failed sees to the fault that it is part of. */
    @EventListener
    void seeTo(Charge charge) {
        current(charge.run().jobId())
                .filter(fault -> charge.run().number() >= fault.openedRun())
                .filter(fault -> !fault.seenBy().equals(charge.person()))
                .ifPresent(fault -> seeTo(
                        fault.id(),
                        charge.person().isEmpty() ? fault.seenBy() : charge.person(),
                        !charge.person().isEmpty()));
    }

    /** Notes who sees to a fault, or that nobody does any more; reminders fall silent meanwhile. */
    public void seeTo(long id, String person, boolean sees) {
        FaultRecord fault = findToChange(id).orElseThrow();
        fault.seenTo(sees ? person : "", clock.instant());
        // whoever tells of faults looks at it at once: nothing more is due, or something is again
        fault.next(fault.closedAt().isPresent() ? Optional.empty() : Optional.of(clock.instant()));
        write(fault, person, sees ? "sees to it" : "does not see to it any more");
    }

    /** Writes a note. */
    public void write(FaultRecord fault, String person, String text) {
        notes.save(new FaultNote(fault.id(), clock.instant(), person, text));
        changed(fault);
    }

    /** Whatever changes a fault does so some time after the run's own events, so whoever looks at it is told of that too. */
    private void changed(FaultRecord fault) {
        journal.write(
                "gantrel.fault.changed", fault.lastRun(), jobs.teamOf(fault.jobId()), Map.of("fault", fault.id()));
    }

    @Transactional(readOnly = true)
    List<FaultNote> notes(long id) {
        return notes.findByFaultIdOrderById(id);
    }

    @Transactional(readOnly = true)
    List<FaultRecord> before(long before, Set<Long> teams, boolean onlyOpen, long job, int most) {
        return store.before(before, teams, onlyOpen, job, Limit.of(most));
    }
}
