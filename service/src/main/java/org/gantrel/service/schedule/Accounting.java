package org.gantrel.service.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.event.EventType;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.schedule.CatchUp;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Reckoning;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.SweepRequest;
import org.gantrel.service.schedule.OccurrenceRecord.Outcome;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Absence;
import org.gantrel.service.time.Presence;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Accounts for every due occurrence, exactly once. One transaction records the occurrence, writes down its run and
 * moves the schedule on; the database refuses a second record of the same instant. Schedules that are due together are
 * accounted for some at a time, and where that cannot be, each by itself: one that cannot be is set aside, and one that
 * somebody is just changing is looked at a moment later.
 */
@Component
public class Accounting {

    private static final Logger LOG = LoggerFactory.getLogger(Accounting.class);

    /**
     * Occurrences are written down this long before their time, so that at their time only the command is left to be
     * started.
     */
    public static final Duration LEAD = Duration.ofMillis(200);

    /** Of many that are due together each takes so long to be written down, which begins so much earlier. */
    private static final Duration EACH = Duration.ofMillis(3);

    private static final int FEW = 50;
    private static final Duration LONGEST_LEAD = Duration.ofSeconds(4);

    private static final Duration SOON = Duration.ofMillis(100);
    private static final int MOST_SCHEDULES = 2_000;
    private static final int TOGETHER = 25;
    private static final Duration LONG_DUE = Duration.ofMinutes(1);

    private final ScheduleStore schedules;
    private final OccurrenceStore occurrences;
    private final Plans plans;
    private final Ledger ledger;
    private final Runs runs;
    private final Jobs jobs;
    private final Presence presence;
    private final SetAside aside;
    private final Reckoning reckoning;
    private final TransactionTemplate transaction;
    private final Journal journal;

    /** Schedules that are due and wait: for their last late run to end. They are looked at in each step. */
    private final Set<Long> takingTurns = new HashSet<>();

    /** Those whose coming occurrences are to be planned anew. */
    private final Set<Long> planAnew = new LinkedHashSet<>();

    private boolean allAnew;

    private Optional<Instant> lookAgain = Optional.empty();
    private Duration lead = LEAD;

    Accounting(
            ScheduleStore schedules,
            OccurrenceStore occurrences,
            Plans plans,
            Ledger ledger,
            Runs runs,
            Jobs jobs,
            Presence presence,
            SetAside aside,
            Settings settings,
            TransactionTemplate transaction,
            Journal journal) {
        this.schedules = schedules;
        this.occurrences = occurrences;
        this.plans = plans;
        this.ledger = ledger;
        this.runs = runs;
        this.jobs = jobs;
        this.presence = presence;
        this.aside = aside;
        this.reckoning = new Reckoning(settings.limits().grace());
        this.transaction = transaction;
        this.journal = journal;
    }

    /**
     * Accounts for what is due; what is too late by now was missed because of an absence.
     *
     * @return whether anything was written
     */
    public boolean account(Instant now, Absence absence) {
        lookAgain = Optional.empty();
        takingTurns.clear();
        planAnew(now);
        boolean written = false;
        List<ScheduleStore.Due> soon = schedules.soon(now.plus(LONGEST_LEAD), Limit.of(MOST_SCHEDULES));
        lead = lead(soon, now);
        List<Long> due = soon.stream()
                .filter(each -> !each.at().isAfter(now.plus(lead)))
                .map(ScheduleStore.Due::id)
                .toList();
        // what has been due for long may have come due thousands of times since, which is enough for a transaction
        Set<Long> late =
                due.size() < 2 ? Set.of() : Set.copyOf(schedules.due(now.minus(LONG_DUE), Limit.of(MOST_SCHEDULES)));
        List<Long> open = due.stream()
                .filter(id -> !late.contains(id) && !aside.isHeld(Kind.SCHEDULE, id))
                .toList();
        for (Long id : due) {
            written |= late.contains(id) && accountSome(List.of(id), now, absence);
        }
        for (int from = 0; from < open.size(); from += TOGETHER) {
            written |= accountSome(open.subList(from, Math.min(open.size(), from + TOGETHER)), now, absence);
        }
        if (due.size() == MOST_SCHEDULES) {
            lookAgain = Optional.of(now);
        }
        return written;
    }

    private static Duration lead(List<ScheduleStore.Due> soon, Instant now) {
        long many = soon.stream().filter(each -> each.at().isAfter(now)).count();
        Duration lead = LEAD.plus(EACH.multipliedBy(many));
        return many <= FEW ? LEAD : lead.compareTo(LONGEST_LEAD) < 0 ? lead : LONGEST_LEAD;
    }

    /** A commit for some costs little more than one for one. */
    private boolean accountSome(List<Long> ids, Instant now, Absence absence) {
        // what failed before goes by itself, so that it is known when it no longer does
        if (ids.size() > 1 && ids.stream().noneMatch(id -> aside.hasFailed(Kind.SCHEDULE, id))) {
            try {
                return Boolean.TRUE.equals(transaction.execute(status -> account(ids, now, absence)));
            } catch (Throwable e) {
                LOG.debug("{} schedules are accounted for one by one", ids.size(), e);
            }
        }
        boolean[] written = {false};
        for (Long id : ids) {
            aside.attempt(
                    Kind.SCHEDULE,
                    id,
                    () -> thing(id),
                    () -> written[0] |=
                            Boolean.TRUE.equals(transaction.execute(status -> account(List.of(id), now, absence))));
        }
        return written[0];
    }

    /** What people call a schedule; its number where even that cannot be read. */
    private Thing thing(long id) {
        try {
            return transaction.execute(status -> schedules
                    .findById(id)
                    .map(schedule -> {
                        JobEntry job = jobs.withId(schedule.jobId());
                        return new Thing(Kind.SCHEDULE, id, job.name() + " / " + schedule.name(), job.team());
                    })
                    .orElse(new Thing(Kind.SCHEDULE, id, "schedule " + id, "")));
        } catch (RuntimeException e) {
            return new Thing(Kind.SCHEDULE, id, "schedule " + id, "");
        }
    }

    private boolean account(List<Long> ids, Instant now, Absence absence) {
        List<ScheduleRecord> held = schedules.holdUnlessHeld(ids);
        if (held.size() < ids.size()) {
            lookAgain = Optional.of(now.plus(SOON));
        }
        Known known = known(held);
        boolean written = false;
        for (ScheduleRecord schedule : held) {
            written |= account(schedule, known, now, absence);
        }
        return written;
    }

    /**
     * Goes once through all that a start does and takes it back, so that the first real one need not load classes and
     * prepare statements when it is due. Says whether there is a schedule to do it with.
     */
    public boolean warmUp(Instant now) {
        return Boolean.TRUE.equals(transaction.execute(status -> {
            status.setRollbackOnly();
            Optional<ScheduleRecord> any = schedules.some(Limit.of(1)).stream().findFirst();
            any.ifPresent(schedule -> {
                var from = NewRun.bySchedule(
                        jobs.withId(schedule.jobId()),
                        Map.of(),
                        schedule.name(),
                        new PlannedTime(now, schedule.zone()));
                schedules.holdUnlessHeld(List.of(schedule.id()));
                plans.of(schedule).next(now);
                long number = ledger.goThrough(from, now);
                // no schedule has an occurrence at a broken second, so that this one is in nobody's way
                Instant apart = now.truncatedTo(ChronoUnit.SECONDS).plusMillis(501);
                known(List.of(schedule));
                occurrences.saveAndFlush(new OccurrenceRecord(schedule, apart, Outcome.STARTED, "", number));
            });
            return any.isPresent();
        }));
    }

    /**
     * When it is to be looked what is due: at the next occurrence of any schedule, and before it at how many are due with it.
     */
    public Optional<Instant> next(Instant now) {
        return lookAgain.isPresent()
                ? lookAgain
                : next().map(at -> at.plus(LEAD)).map(at -> {
                    Instant early = at.minus(LONGEST_LEAD);
                    return early.isAfter(now) ? early : at.minus(lead);
                });
    }

    /** When the next occurrence of any schedule is to be accounted for. */
    public Optional<Instant> next() {
        var except = new HashSet<>(takingTurns);
        except.addAll(aside.held(Kind.SCHEDULE));
        except.add(-1L);
        Optional<Instant> next = schedules.earliest(except).map(at -> at.minus(LEAD));
        // a schedule that somebody holds is due all the time; it is looked at again after a moment, and not before
        return lookAgain.isPresent() ? lookAgain : next;
    }

    /**
     * Is told that the clock was put back: what was accounted for after the new time comes again, unless it started. Each
     * schedule stays to be dealt with until that is done.
     */
    public void clockWentBack() {
        allAnew = true;
    }

    /** Whether that is still to be done for some. */
    public boolean plansAnew() {
        return allAnew || !planAnew.isEmpty();
    }

    private void planAnew(Instant now) {
        if (allAnew) {
            planAnew.addAll(schedules.inUse().stream().map(ScheduleRecord::id).toList());
            allAnew = false;
        }
        List<Long> all = planAnew.stream()
                .filter(id -> !aside.isHeld(Kind.SCHEDULE, id))
                .limit(MOST_SCHEDULES)
                .toList();
        for (int from = 0; from < all.size(); from += TOGETHER) {
            List<Long> some = all.subList(from, Math.min(all.size(), from + TOGETHER));
            try {
                planAnew.removeAll(transaction.execute(status -> planAnew(some, now)));
            } catch (Throwable e) {
                LOG.warn("{} schedules are planned anew one by one", some.size(), e);
                some.forEach(id -> aside.attempt(
                        Kind.SCHEDULE,
                        id,
                        () -> thing(id),
                        () -> planAnew.removeAll(transaction.execute(status -> planAnew(List.of(id), now)))));
            }
        }
    }

    /** @return those that could be held, and are dealt with */
    private Set<Long> planAnew(List<Long> ids, Instant now) {
        List<ScheduleRecord> held = schedules.holdUnlessHeld(ids);
        Set<Long> dealtWith = held.stream().map(ScheduleRecord::id).collect(Collectors.toSet());
        if (!dealtWith.isEmpty()) {
            occurrences.deleteNotStarted(dealtWith, now.plus(LONGEST_LEAD));
        }
        for (ScheduleRecord schedule : held) {
            if (plans.definition(schedule).isPresent()) {
                schedule.clockWentBack(now, plans.of(schedule));
            }
        }
        if (held.size() < ids.size()) {
            lookAgain = Optional.of(now.plus(SOON));
        }
        return dealtWith;
    }

    /** Accounts for what was due by a plan that is about to be replaced, in the transaction under way. */
    void settle(ScheduleRecord schedule, Schedule definition, Plan plan, Instant now) {
        while (schedule.nextAt() != null && !schedule.nextAt().isAfter(now)) {
            Reckoning.Result result =
                    reckoning.reckon(plan, definition.catchUp(), schedule.nextAt(), now, schedule.offUntil());
            JobEntry job = jobs.withId(schedule.jobId());
            Known known = known(List.of(schedule));
            result.accounts().stream()
                    .filter(account -> !known.holds(schedule, account.at()))
                    .forEach(account -> record(schedule, job, definition, account, now, presence.absence()));
            schedule.accountedUpTo(result.next().orElse(null));
        }
    }

    /** What is accounted for already: before its calendar or rule moved a schedule back to it. */
    private interface Known {
        boolean holds(ScheduleRecord schedule, Instant at);
    }

    /** One question for all of them; mostly there is nothing. */
    private Known known(List<ScheduleRecord> held) {
        List<Instant> from = held.stream()
                .map(ScheduleRecord::nextAt)
                .filter(Objects::nonNull)
                .sorted()
                .toList();
        if (from.isEmpty()) {
            return (schedule, at) -> false;
        }
        Map<Long, Set<Instant>> known =
                occurrences.since(held.stream().map(ScheduleRecord::id).toList(), from.get(0)).stream()
                        .collect(Collectors.groupingBy(
                                OccurrenceRecord::scheduleId,
                                Collectors.mapping(OccurrenceRecord::at, Collectors.toSet())));
        return (schedule, at) -> known.getOrDefault(schedule.id(), Set.of()).contains(at);
    }

    private boolean account(ScheduleRecord schedule, Known known, Instant now, Absence absence) {
        if (schedule.nextAt() == null || schedule.nextAt().isAfter(now.plus(lead))) {
            return false;
        }
        Optional<Schedule> definition = plans.definition(schedule);
        if (definition.isEmpty()) {
            schedule.accountedUpTo(null);
            return true;
        }
        JobEntry job = jobs.withId(schedule.jobId());
        Reckoning.Result result = reckoning.reckon(
                plans.of(schedule), definition.get().catchUp(), schedule.nextAt(), now.plus(lead), schedule.offUntil());
        boolean oneByOne = definition.get().catchUp().policy() == CatchUp.Policy.EACH;
        boolean written = false;
        boolean busy = false;
        boolean asked = false;
        for (Reckoning.Account account : result.accounts()) {
            if (oneByOne && account.starts() && reckoning.isLate(account.at(), now)) {
                if (!asked) {
                    busy = runs.isUnderway(job.id(), schedule.name());
                    asked = true;
                }
                if (busy) {
                    // the one before is to end first; what comes after it waits where it is
                    schedule.accountedUpTo(account.at());
                    takingTurns.add(schedule.id());
                    return written;
                }
                busy = true;
            }
            if (!known.holds(schedule, account.at())) {
                record(schedule, job, definition.get(), account, now, absence);
            }
            written = true;
        }
        schedule.accountedUpTo(result.next().orElse(null));
        if (result.next().isEmpty()) {
            String sentence = "the schedule " + schedule.name() + " of " + job.name() + " has no coming start any more";
            journal.write(
                    EventType.SCHEDULE_OVER.type(),
                    job.team(),
                    Map.of("job", job.name(), "schedule", schedule.name(), "message", sentence));
        }
        return true;
    }

    private void record(
            ScheduleRecord schedule,
            JobEntry job,
            Schedule definition,
            Reckoning.Account account,
            Instant now,
            Absence absence) {
        Instant at = account.at();
        if (!account.starts() && schedule.wasOffAt(at)) {
            String reason = "the schedule was switched off; " + schedule.switchedBy() + " switched it on later";
            occurrences.save(new OccurrenceRecord(schedule, at, Outcome.SKIPPED, reason, null));
            return;
        }
        var planned = new PlannedTime(at, schedule.zone());
        NewRun single = NewRun.bySchedule(job, definition.with(), schedule.name(), planned)
                .by(definition.deadline().map(deadline -> deadline.of(planned)));
        NewRun from = definition.over().isEmpty() ? single : single.over(SweepRequest.all(definition.over()));
        switch (account.fate()) {
            case STARTS ->
                occurrences.save(new OccurrenceRecord(
                        schedule, at, Outcome.STARTED, "", started(from, now).number()));
            case MISSED -> {
                String reason = absence.reasonMissed(at, schedule.zone());
                Run run = ledger.createEnded(from, new Ending(RunState.MISSED, reason), now);
                occurrences.save(new OccurrenceRecord(schedule, at, Outcome.MISSED, reason, run.number()));
            }
            case SKIPPED -> {
                Run run = ledger.createEnded(from, new Ending(RunState.SKIPPED, account.reason()), now);
                occurrences.save(new OccurrenceRecord(schedule, at, Outcome.SKIPPED, account.reason(), run.number()));
            }
        }
    }

    private Run started(NewRun from, Instant now) {
        try {
            return ledger.create(from, now);
        } catch (InvalidException e) {
            return ledger.createEnded(from, new Ending(RunState.FAILED, "not started: " + Runs.sentence(e)), now);
        }
    }
}
