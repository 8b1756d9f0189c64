package org.gantrel.service.trigger;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.service.aside.EventByEvent;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.aside.SetAside.Kind;
import org.gantrel.service.aside.SetAside.Thing;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.JournalReader;
import org.gantrel.service.run.ByHand;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.NewRun;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.springframework.context.SmartLifecycle;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Starts jobs upon events. It reads the journal in a thread of its own; how far it has come is written down in the
 * transaction that writes down the starts, so that each event starts each job once, whatever happens in between. What ends
 * for a row of a sweep starts nothing: the sweep's own end does.
 */
@Component
class Triggers implements SmartLifecycle {

    private static final String READER = "triggers";
    private static final Set<String> TYPES = Set.of(Trigger.On.RUN_ENDED.type(), Trigger.On.STEP_ENDED.type());
    private static final String CHANGED = "gantrel.job.changed";

    private record Listening(long job, Trigger trigger) {}

    private final Jobs jobs;
    private final Runs runs;
    private final Ledger ledger;
    private final RunValues values;
    private final ByHand byHand;
    private final Journal journal;
    private final EventByEvent each;
    /** The triggers of all jobs, by the job whose ends they wait for; null where they are to be read again. */
    private Map<String, List<Listening>> listening;

    private JournalReader reader;

    Triggers(
            Jobs jobs,
            Runs runs,
            Ledger ledger,
            RunValues values,
            ByHand byHand,
            Journal journal,
            SetAside aside,
            TransactionTemplate transaction) {
        this.jobs = jobs;
        this.runs = runs;
        this.ledger = ledger;
        this.values = values;
        this.byHand = byHand;
        this.journal = journal;
        this.each = new EventByEvent(READER, journal, aside, transaction, this::concerns, Triggers::thing, this::fire);
    }

    @Override
    public void start() {
        reader = new JournalReader(READER, journal, () -> journal.position(READER), each).start();
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

    /** Before the engine: what happens in its first step is seen too. */
    @Override
    public int getPhase() {
        return Integer.MAX_VALUE - 1;
    }

    private boolean concerns(Event event) {
        if (event.type().equals(CHANGED)) {
            listening = null;
        }
        return !listeningTo(event).isEmpty();
    }

    /** Apart from what others set aside of the same event. */
    private static Thing thing(Event event) {
        return new Thing(Kind.EVENT, -event.position(), "triggers after run " + event.run(), event.team());
    }

    private List<Listening> listeningTo(Event event) {
        boolean row = CauseKind.SWEEP.word().equals(event.about().get("cause"));
        if (!TYPES.contains(event.type()) || row) {
            return List.of();
        }
        if (listening == null) {
            listening = read();
        }
        String job = String.valueOf(event.about().get("job"));
        String step = String.valueOf(event.about().getOrDefault("step", ""));
        Optional<RunState> state = RunState.of(String.valueOf(event.about().get("state")));
        return state.map(ended -> listening.getOrDefault(job, List.of()).stream()
                        .filter(each -> each.trigger().isFor(event.type(), job, step, ended))
                        .toList())
                .orElse(List.of());
    }

    private Map<String, List<Listening>> read() {
        Map<String, List<Listening>> found = new HashMap<>();
        for (JobEntry entry : jobs.allEver()) {
            if (!entry.isRetired()) {
                jobs.current(entry).triggers().forEach(trigger -> found.computeIfAbsent(
                                trigger.of(), key -> new ArrayList<>())
                        .add(new Listening(entry.id(), trigger)));
            }
        }
        return found;
    }

    private void fire(Event event) {
        Optional<Run> source = Optional.ofNullable(event.about().get("child"))
                .map(child -> Long.parseLong(String.valueOf(child)))
                .or(() -> Optional.ofNullable(event.run()))
                .flatMap(runs::find);
        if (source.isPresent()) {
            listeningTo(event).forEach(each -> fire(each, event, source.get()));
        }
    }

    private void fire(Listening each, Event event, Run source) {
        JobEntry entry = jobs.withId(each.job());
        Trigger trigger = each.trigger();
        String name = trigger.name() + " of " + entry.name();
        if (inARow(source) >= Trigger.MOST_IN_A_ROW) {
            ledger.remark(
                    source.number(),
                    "the trigger " + name + " does not start it: " + Trigger.MOST_IN_A_ROW
                            + " runs have started one another already",
                    event.at());
            return;
        }
        StepFacts facts = alias -> alias.equals(Trigger.EVENT) ? Optional.of(fact(event, source)) : Optional.empty();
        Instant at = event.at().plus(trigger.delay());
        Job job = jobs.current(entry);
        Bindings known = values.known(Map.of(), byHand.planned(job, at)).after(facts);
        try {
            if (!trigger.when().isEmpty() && !known.holds(trigger.when())) {
                return;
            }
            var with = new LinkedHashMap<String, String>();
            trigger.with().forEach((key, text) -> with.put(key, known.fill(text)));
            ledger.create(NewRun.byTrigger(entry, with, trigger.name(), source, byHand.planned(job, at)), event.at());
        } catch (ExpressionException e) {
            ledger.remark(source.number(), "the trigger " + name + " starts nothing: " + e.getMessage(), event.at());
        } catch (InvalidException e) {
            ledger.remark(source.number(), "the trigger " + name + " starts nothing: " + Runs.sentence(e), event.at());
        }
    }

    private static StepFacts.Fact fact(Event event, Run source) {
        return new StepFacts.Fact(
                String.valueOf(event.about().get("state")),
                Optional.of(source.number()),
                source.exitCode(),
                source.startedAt(),
                source.finishedAt(),
                source.results(),
                Map.of());
    }

    /** How many runs before it were started by one another's ends. */
    private int inARow(Run run) {
        int count = 0;
        Optional<Run> at = Optional.of(run);
        while (at.isPresent() && count < Trigger.MOST_IN_A_ROW) {
            Run now = at.get();
            boolean started = now.cause() == CauseKind.TRIGGER && now.causeRef().matches("\\d{1,18}");
            if (started) {
                count++;
            }
            at = started
                    ? runs.find(Long.parseLong(now.causeRef()))
                    : now.parent().flatMap(runs::find);
        }
        return count;
    }
}
