package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.job.Job;
import org.gantrel.core.notification.FaultCourse;
import org.gantrel.core.notification.FaultCourse.Tell;
import org.gantrel.core.notification.FaultCourse.Why;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.core.run.CauseKind;
import org.gantrel.service.aside.EventByEvent;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.fault.FaultLedger;
import org.gantrel.service.fault.FaultRecord;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.JournalReader;
import org.gantrel.service.notification.Addressees.Addressee;
import org.gantrel.service.notification.Outbox.Occasion;
import org.gantrel.service.retention.LetsGo;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.telling.Tellings;
import org.gantrel.service.time.Presence;
import org.gantrel.service.time.PutBackSense;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Writes down what is told to whom. It reads the journal in a thread of its own; how far it has come is written down with
 * the messages, so that each is written once. The rows of a sweep are told of by the sweep's own end, and the steps of a
 * chain by the chain's, except to those who asked for the step's job itself.
 */
@Component
class Teller implements SmartLifecycle, LetsGo {

    private static final String READER = "mails";
    private static final String ENDED = "gantrel.run.ended";
    private static final String CHANGED = "gantrel.job.changed";
    private static final String LATE = "gantrel.run.late";
    private static final String LONG = "gantrel.run.long";
    private static final String WAITS = "gantrel.run.waits";
    private static final int MOST_DUE = 200;

    private final DeliveryStore store;
    private final Runs runs;
    private final RunValues values;
    private final Jobs jobs;
    private final FaultLedger faults;
    private final Tellings tellings;
    private final Addressees addressees;
    private final Questions questions;
    private final NoticesToPeople notices;
    private final Texts texts;
    private final Outbox outbox;
    private final Journal journal;
    private final SetAside aside;
    private final Courier courier;
    private final TransactionTemplate transaction;
    private final Clock clock;
    private final EventByEvent each;
    private final PutBackSense sense;
    /** Faults to plan anew, since the clock was put back. Used by the courier's thread alone. */
    private final Set<Long> wentBack = new LinkedHashSet<>();

    private JournalReader reader;

    Teller(
            DeliveryStore store,
            Runs runs,
            RunValues values,
            Jobs jobs,
            FaultLedger faults,
            Tellings tellings,
            Addressees addressees,
            Questions questions,
            NoticesToPeople notices,
            Texts texts,
            Outbox outbox,
            Journal journal,
            SetAside aside,
            Courier courier,
            TransactionTemplate transaction,
            Presence presence,
            Clock clock) {
        this.sense = new PutBackSense(presence.absence().from());
        this.store = store;
        this.runs = runs;
        this.values = values;
        this.jobs = jobs;
        this.faults = faults;
        this.tellings = tellings;
        this.addressees = addressees;
        this.questions = questions;
        this.notices = notices;
        this.texts = texts;
        this.outbox = outbox;
        this.journal = journal;
        this.aside = aside;
        this.courier = courier;
        this.transaction = transaction;
        this.clock = clock;
        this.each = new EventByEvent(READER, journal, aside, transaction, this::concerns, Teller::thing, this::tell);
    }

    @Override
    public void start() {
        courier.beforeEachLook(this::remind);
        reader = new JournalReader("mails", journal, () -> journal.position(READER), each).start();
    }

    @Override
    public void stop() {
        reader.close();
        reader = null;
    }

    @Override
    public boolean isRunning() {
        return reader != null;
    }

    /** Before the engine's: what happens in its first step is told too. */
    @Override
    public int getPhase() {
        return Integer.MAX_VALUE - 1;
    }

    /** Messages that are still to go out, and ends that nobody has been told of yet. */
    @Override
    public List<Long> owed(List<Long> runs) {
        var owed = new ArrayList<>(store.waiting(runs));
        owed.addAll(journal.unread(runs));
        return owed;
    }

    @Override
    public void letGo(List<Long> runs) {
        store.letGo(runs);
    }

    /** Most events are not worth a message; a thousand good ends must not cost a transaction each. */
    private boolean concerns(Event event) {
        if (event.type().equals(Questions.ASKED)) {
            return true;
        }
        if (notices.concerns(event)) {
            return true;
        }
        if (event.type().equals(CHANGED)) {
            return faults.isAnyOpen()
                    && job(event)
                            .filter(job -> job.isRetired() && faults.mayBeOpen(job.id()))
                            .isPresent();
        }
        Optional<Happening> happening = happening(event);
        if (happening.isEmpty() || CauseKind.SWEEP.word().equals(event.about().get("cause"))) {
            return false;
        }
        return happening.get().isFault()
                || told().contains(happening.get())
                || faults.isAnyOpen()
                        && job(event).filter(job -> faults.mayBeOpen(job.id())).isPresent();
    }

    /** What any rule tells of. */
    private Set<Happening> told() {
        Set<Happening> told = EnumSet.noneOf(Happening.class);
        tellings.rules().forEach(rule -> told.addAll(rule.tells()));
        return told;
    }

    private Optional<JobEntry> job(Event event) {
        return jobs.named(String.valueOf(event.about().get("job")));
    }

    private static Optional<Happening> happening(Event event) {
        return switch (event.type()) {
            case ENDED -> Happening.of(String.valueOf(event.about().get("state")));
            case LATE -> Optional.of(Happening.LATE);
            case LONG -> Optional.of(Happening.LONG);
            case WAITS -> Optional.of(Happening.WAITS_LONG);
            default -> Optional.empty();
        };
    }

    private static Thing thing(Event event) {
        return new Thing(
                Kind.EVENT,
                event.position(),
                event.run() == null ? "a job out of use" : "mails of run " + event.run(),
                event.team());
    }

    private synchronized void tell(Event event) {
        courier.ringAfterCommit();
        if (event.type().equals(CHANGED)) {
            job(event).filter(JobEntry::isRetired).ifPresent(job -> faults.retired(job.id(), event.at()));
            return;
        }
        if (store.existsByEventPosition(event.position())) {
            return;
        }
        if (notices.concerns(event)) {
            notices.tell(event);
            return;
        }
        Optional<Run> found = runs.find(event.run());
        if (found.isEmpty()) {
            return;
        }
        if (event.type().equals(Questions.ASKED)) {
            questions.of(found.get(), event).ifPresent(question -> new Telling(found.get(), event).ask(question));
        } else {
            happening(event).ifPresent(happening -> new Telling(found.get(), event).tell(happening));
        }
    }

    /** What is told of one event of a run. */
    private final class Telling {
        private final Run run;
        private final Job job;
        private final Event event;
        private final List<NotificationRule> rules;
        private final Occasion occasion;

        private Telling(Run run, Event event) {
            this.run = run;
            this.event = event;
            this.job = runs.jobOf(run);
            // an end that was heard of late happened when it happened
            Instant at = run.finishedAt()
                    .filter(end -> event.type().equals(ENDED) && end.isBefore(event.at()))
                    .orElse(event.at());
            this.occasion = Occasion.of(Optional.of(event.position()), run, job, at, new HashSet<>());
            // the most urgent first: of two rules that tell somebody the same, that one counts
            this.rules = addressees.rules(job).stream()
                    .sorted(Comparator.comparing(NotificationRule::urgency).reversed())
                    .toList();
        }

        private void tell(Happening happening) {
            boolean part = run.parent().isPresent();
            List<NotificationRule> of = rules.stream()
                    .filter(rule -> rule.isFor(job, happening, part) && holds(rule))
                    .toList();
            boolean end = event.type().equals(ENDED);
            if (end && Happening.isFault(run.state())) {
                FaultRecord fault = faults.takeIn(run, occasion.at());
                FaultCourse.atBadEnd(faults.value(fault), of).forEach(tell -> send(fault, tell));
                faults.plan(fault, rules);
                return;
            }
            if (end && Happening.isGood(run.state()) && faults.mayBeOpen(run.jobId())) {
                faults.current(run.jobId()).ifPresent(this::recovered);
            }
            String detail = end ? run.message() : String.valueOf(event.about().getOrDefault("message", ""));
            for (NotificationRule rule : of) {
                send(
                        rule,
                        addressees.of(rule.to(), job, starter(run), occasion.at()),
                        "event",
                        Optional.empty(),
                        whole -> texts.event(happening, run, job, detail, whole, because(rule)));
            }
        }

        /** Asks the addresses that the step names, and whom rules tell of questions. */
        private void ask(Questions.Question question) {
            Texts.Said said = question.said();
            outbox.send(occasion, question.tells(), said);
            rules.stream()
                    .filter(rule ->
                            rule.isFor(job, Happening.APPROVAL, run.parent().isPresent()) && holds(rule))
                    .forEach(rule -> send(
                            rule,
                            addressees.of(rule.to(), job, starter(run), event.at()),
                            "event",
                            Optional.empty(),
                            whole -> whole
                                    ? said
                                    : texts.event(Happening.APPROVAL, run, job, "", false, because(rule))));
        }

        private void recovered(FaultRecord fault) {
            List<Tell> tells = FaultCourse.atGoodEnd(faults.value(fault), rules);
            faults.close(fault, run, occasion.at());
            tells.forEach(tell -> send(
                    tell.rule(),
                    outbox.toldOf(fault, tell.rule()),
                    "recovered",
                    Optional.of(fault),
                    whole -> texts.fault(fault, run, job, Why.RECOVERED, whole, because(tell.rule()))));
        }

        private void send(FaultRecord fault, Tell tell) {
            faults.note(fault, tell, occasion.at());
            send(
                    tell.rule(),
                    addressees.of(tell.to(), job, starter(run), occasion.at()),
                    "first",
                    Optional.of(fault),
                    whole -> texts.fault(fault, run, job, tell.why(), whole, because(tell.rule())));
        }

        private boolean holds(NotificationRule rule) {
            if (rule.when().isEmpty()) {
                return true;
            }
            StepFacts facts = alias -> alias.equals(NotificationRule.RUN) ? Optional.of(fact(run)) : Optional.empty();
            try {
                return values.known(Map.of(), run.planned()).after(facts).holds(rule.when());
            } catch (ExpressionException e) {
                // who cannot know whether it matters is told
                return true;
            }
        }

        private void send(
                NotificationRule rule,
                Collection<Addressee> to,
                String kind,
                Optional<FaultRecord> fault,
                Function<Boolean, Texts.Said> says) {
            outbox.send(occasion, rule, to, kind, fault, says);
        }
    }

    /** Reminds of faults that nobody sees to, and tells further people. Runs beside the reader, one thing at a time. */
    private Optional<Instant> remind() {
        Instant now = clock.instant();
        if (sense.look(now).isPresent()) {
            faults.open().forEach(fault -> wentBack.add(fault.id()));
        }
        for (Long id : List.copyOf(wentBack)) {
            if (aside.attempt(reminders(id), () -> planAnew(id, now))) {
                wentBack.remove(id);
            }
        }
        for (FaultRecord due : faults.due(now, MOST_DUE)) {
            aside.attempt(reminders(due.id()), () -> remind(due.id()));
        }
        return faults.earliest();
    }

    private static Thing reminders(long fault) {
        return new Thing(Kind.EVENT, -1_000_000_000L - fault, "reminders of fault " + fault, "");
    }

    private synchronized void planAnew(long id, Instant now) {
        transaction.executeWithoutResult(status -> faults.findToChange(id)
                .ifPresent(fault -> faults.clockWentBack(fault, rules(runs.find(fault.lastRun())), now)));
    }

    private List<NotificationRule> rules(Optional<Run> run) {
        return run.map(each -> addressees.rules(runs.jobOf(each))).orElse(List.of());
    }

    private synchronized void remind(long id) {
        transaction.executeWithoutResult(status -> faults.findToChange(id).ifPresent(fault -> {
            Instant now = clock.instant();
            Optional<Run> run = runs.find(fault.lastRun());
            List<NotificationRule> rules = rules(run);
            Set<String> reached = new HashSet<>();
            for (Tell tell : FaultCourse.due(faults.value(fault), rules, now)) {
                faults.note(fault, tell, now);
                Job job = runs.jobOf(run.orElseThrow());
                outbox.send(
                        Occasion.of(Optional.empty(), run.get(), job, now, reached),
                        tell.rule(),
                        addressees.of(tell.to(), job, starter(run.get()), now),
                        tell.why() == Why.REMINDER ? "reminder" : "further",
                        Optional.of(fault),
                        whole -> texts.fault(fault, run.get(), job, tell.why(), whole, because(tell.rule())));
            }
            faults.plan(fault, rules);
        }));
    }

    static String starter(Run run) {
        return run.cause() == CauseKind.PERSON ? run.starter() : "";
    }

    private static StepFacts.Fact fact(Run run) {
        return new StepFacts.Fact(
                run.state().word(),
                Optional.of(run.number()),
                run.exitCode(),
                run.startedAt(),
                run.finishedAt(),
                run.results(),
                Map.of());
    }

    static String because(NotificationRule rule) {
        if (rule.name().equals(Addressees.BY_JOB)) {
            return "You are told since the job names this address under notify.";
        }
        return rule.name().startsWith("@")
                ? "You are told since you follow this job."
                : "You are told by the rule " + rule.name() + " of the team " + rule.team() + ".";
    }
}
