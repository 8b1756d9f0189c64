package org.gantrel.service.notification;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.service.aside.EventByEvent;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.JournalReader;
import org.gantrel.service.retention.LetsGo;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunLogs;
import org.gantrel.service.run.Runs;
import org.gantrel.service.settings.Settings;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Writes a mail for each address that a job names when its run fails. It reads the journal in a thread of its own; how far
 * it has come is written down with the mails, so that each is written once. The rows of a sweep are told of by the
 * sweep's own end, not by a mail each.
 */
@Component
class Outbox implements SmartLifecycle, LetsGo {

    private static final String READER = "mails";
    private static final String ASKED = "gantrel.approval.asked";
    private static final int LINES_OF_LOG = 20;
    private static final Set<String> BAD = Set.of(RunState.FAILED.word(), RunState.TIMED_OUT.word());

    private final DeliveryStore store;
    private final Runs runs;
    private final RunLogs logs;
    private final Journal journal;
    private final Settings settings;
    private final Courier courier;
    private final EventByEvent each;

    private JournalReader reader;

    Outbox(
            DeliveryStore store,
            Runs runs,
            RunLogs logs,
            Journal journal,
            SetAside aside,
            Settings settings,
            Courier courier,
            TransactionTemplate transaction) {
        this.store = store;
        this.runs = runs;
        this.logs = logs;
        this.journal = journal;
        this.settings = settings;
        this.courier = courier;
        this.each =
                new EventByEvent(READER, journal, aside, transaction, Outbox::isWorthAMail, Outbox::thing, this::tell);
    }

    @Override
    public void start() {
        reader = new JournalReader("mails", journal, () -> journal.position(READER), this::take).start();
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

    /** Mails that are still to go out, and ends that nobody has been told of yet. */
    @Override
    public List<Long> owed(List<Long> runs) {
        var owed = new ArrayList<>(store.waiting(runs));
        owed.addAll(journal.unread(runs));
        return owed;
    }

    @Override
    public void letGo(List<Long> runs) {
        store.deleteOf(runs);
    }

    private long take(List<Event> events) {
        long last = each.take(events);
        courier.ring();
        return last;
    }

    /** Most events are not; a thousand ends of rows must not cost a transaction each. */
    private static boolean isWorthAMail(Event event) {
        return event.type().equals(ASKED)
                || event.type().equals("gantrel.run.ended")
                        && BAD.contains(String.valueOf(event.about().get("state")))
                        && !CauseKind.SWEEP.word().equals(event.about().get("cause"));
    }

    private static Thing thing(Event event) {
        return new Thing(Kind.EVENT, event.position(), "mails of run " + event.run(), event.team());
    }

    private void tell(Event event) {
        if (!store.existsByEventPosition(event.position())) {
            runs.find(event.run()).ifPresent(run -> {
                if (event.type().equals(ASKED)) {
                    ask(run, event);
                } else {
                    tell(run, event.position());
                }
            });
        }
    }

    /** Sends the question of a chain's step to those whom the step names. */
    private void ask(Run run, Event event) {
        String step = String.valueOf(event.about().get("step"));
        Optional<Step.Approval> approval = Optional.of(runs.jobOf(run))
                .filter(Job.Chain.class::isInstance)
                .flatMap(chain -> ((Job.Chain) chain).step(step))
                .filter(found -> found.work() instanceof Step.Approval)
                .map(found -> (Step.Approval) found.work());
        if (approval.isEmpty()) {
            return;
        }
        String asks = String.valueOf(event.about().get("asks"));
        String subject = run.jobName() + " asks: " + (asks.isEmpty() ? "go on?" : asks) + " (run " + run.number() + ")";
        String until = approval.get()
                .within()
                .map(within -> "Until:          " + event.at().plus(within) + "\n")
                .orElse("");
        String body = (asks.isEmpty() ? "Is it to go on?" : asks) + "\n\n"
                + "The chain:      " + run.jobName() + ", step " + step + "\n"
                + "Asked are:      people with the role "
                + approval.get().role().word() + " in the team "
                + approval.get().team() + "\n"
                + until
                + "Answer it at:   " + settings.url() + "/runs/" + run.number() + "\n"
                + "or by:          gantrel run decide " + run.number() + " " + step + " --approve (or --refuse)\n";
        approval.get().tells().stream()
                .distinct()
                .forEach(address -> store.save(new DeliveryRecord(
                        event.position(), run.number(), run.teamId(), address, subject, body, event.at())));
    }

    private void tell(Run run, long position) {
        Job job = runs.jobOf(run);
        if (job.mailOnFailure().isEmpty()) {
            return;
        }
        Instant at = run.finishedAt().orElseThrow();
        String subject = run.jobName() + " " + run.state().word().replace('-', ' ') + " (run " + run.number() + ")";
        String body = body(run, job);
        job.mailOnFailure().stream()
                .distinct()
                .forEach(address -> store.save(
                        new DeliveryRecord(position, run.number(), run.teamId(), address, subject, body, at)));
    }

    private String body(Run run, Job job) {
        var text = new StringBuilder();
        text.append(run.jobName()).append(' ').append(run.state().word().replace('-', ' '));
        text.append(": ").append(run.message()).append("\n\n");
        if (!job.about().isEmpty()) {
            text.append("What it is for: ").append(job.about()).append('\n');
        }
        text.append("Planned for:    ").append(run.plannedAt()).append('\n');
        text.append("Started by:     ")
                .append(run.cause().word())
                .append(' ')
                .append(run.causeRef())
                .append('\n');
        run.parameters().forEach((name, value) -> text.append("With:           ")
                .append(name)
                .append(" = ")
                .append(value)
                .append('\n'));
        text.append("Look at it:     ")
                .append(settings.url())
                .append("/runs/")
                .append(run.number())
                .append('\n');
        List<String> lines = logs.lastLines(run, LINES_OF_LOG);
        if (!lines.isEmpty()) {
            text.append("\nThe end of its log:\n\n");
            lines.forEach(line -> text.append("  ").append(line).append('\n'));
        }
        return text.toString();
    }
}
