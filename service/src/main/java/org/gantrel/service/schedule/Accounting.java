package org.gantrel.service.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.schedule.Reckoning;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Over;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.Runs;
import org.gantrel.service.schedule.OccurrenceRecord.Outcome;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Absence;
import org.gantrel.service.time.Presence;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Accounts for every due occurrence, exactly once. One transaction records the occurrence, writes down its run and
 * moves the schedule on; the database refuses a second record of the same instant.
 */
@Component
public class Accounting {

    /**
     * Occurrences are written down this long before their time, so that at their time only the command is left to be
     * started.
     */
    private static final Duration LEAD = Duration.ofMillis(200);

    private final ScheduleStore schedules;
    private final OccurrenceStore occurrences;
    private final Plans plans;
    private final Runs runs;
    private final Presence presence;
    private final Reckoning reckoning;
    private final TransactionTemplate transaction;

    Accounting(
            ScheduleStore schedules,
            OccurrenceStore occurrences,
            Plans plans,
            Runs runs,
            Presence presence,
            Settings settings,
            TransactionTemplate transaction) {
        this.schedules = schedules;
        this.occurrences = occurrences;
        this.plans = plans;
        this.runs = runs;
        this.presence = presence;
        this.reckoning = new Reckoning(settings.limits().grace());
        this.transaction = transaction;
    }

    /** Accounts for what is due. */
    public void account(Instant now) {
        account(now, presence.absence());
    }

    /** Accounts for what is due; what is too late by now was missed because of an absence. */
    public void account(Instant now, Absence absence) {
        for (ScheduleRecord due : schedules.due(now.plus(LEAD))) {
            transaction.executeWithoutResult(
                    status -> schedules.findById(due.id()).ifPresent(schedule -> account(schedule, now, absence)));
        }
    }

    /**
     * Goes once through all that a start does and takes it back, so that the first real one need not load classes and
     * prepare statements when it is due. Says whether there is a schedule to do it with.
     */
    public boolean warmUp(Instant now) {
        return Boolean.TRUE.equals(transaction.execute(status -> {
            status.setRollbackOnly();
            Optional<ScheduleRecord> any = schedules.inUse().stream().findFirst();
            any.ifPresent(schedule -> {
                var from = NewRun.bySchedule(
                        schedule.job(), Map.of(), schedule.name(), new PlannedTime(now, schedule.zone()));
                plans.of(schedule).next(now);
                long number = runs.goThrough(from, now);
                // no schedule has an occurrence at a broken second, so that this one is in nobody's way
                Instant apart = now.truncatedTo(ChronoUnit.SECONDS).plusMillis(501);
                occurrences.saveAndFlush(new OccurrenceRecord(schedule, apart, Outcome.STARTED, "", number));
            });
            return any.isPresent();
        }));
    }

    /** When the next occurrence of any schedule is to be accounted for. */
    public Optional<Instant> next() {
        return schedules.earliest().map(at -> at.minus(LEAD));
    }

    private void account(ScheduleRecord schedule, Instant now, Absence absence) {
        if (schedule.nextAt() == null) {
            return;
        }
        Optional<Schedule> definition = plans.definition(schedule);
        if (definition.isEmpty()) {
            schedule.accountedUpTo(null);
            return;
        }
        Reckoning.Result result =
                reckoning.reckon(plans.of(schedule), definition.get().catchUp(), schedule.nextAt(), now.plus(LEAD));
        for (Reckoning.Account account : result.accounts()) {
            record(schedule, definition.get(), account, now, absence);
        }
        schedule.accountedUpTo(result.next().orElse(null));
    }

    private void record(
            ScheduleRecord schedule, Schedule definition, Reckoning.Account account, Instant now, Absence absence) {
        Instant at = account.at();
        if (!account.starts() && schedule.wasOffAt(at)) {
            String reason = "the schedule was switched off; " + schedule.switchedBy() + " switched it on later";
            occurrences.save(new OccurrenceRecord(schedule, at, Outcome.SKIPPED, reason, null));
            return;
        }
        NewRun single = NewRun.bySchedule(
                schedule.job(), definition.with(), schedule.name(), new PlannedTime(at, schedule.zone()));
        NewRun from = definition.over().isEmpty() ? single : single.over(Over.all(definition.over()));
        switch (account.fate()) {
            case STARTS ->
                occurrences.save(new OccurrenceRecord(
                        schedule, at, Outcome.STARTED, "", started(from, now).number()));
            case MISSED -> {
                String reason = absence.reasonMissed(at, schedule.zone());
                RunRecord run = runs.createEnded(from, new Ending(RunState.MISSED, reason), now);
                occurrences.save(new OccurrenceRecord(schedule, at, Outcome.MISSED, reason, run.number()));
            }
            case SKIPPED -> {
                RunRecord run = runs.createEnded(from, new Ending(RunState.SKIPPED, account.reason()), now);
                occurrences.save(new OccurrenceRecord(schedule, at, Outcome.SKIPPED, account.reason(), run.number()));
            }
        }
    }

    private RunRecord started(NewRun from, Instant now) {
        try {
            return runs.create(from, now);
        } catch (InvalidException e) {
            return runs.createEnded(from, new Ending(RunState.FAILED, "not started: " + Runs.sentence(e)), now);
        }
    }
}
