package org.gantrel.service.chain;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.chain.StepNow;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.ChainSight;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/** The ledger of chains: what became of each step, what people did to a chain's run, and who holds it. */
@Component
@Transactional
public class ChainSteps {

    private static final int MOST_KEPT = 100;
    /** So many of the latest runs say what is usual. */
    private static final int LATEST = 20;

    private static final List<RunState> WELL = List.of(RunState.SUCCEEDED, RunState.WARNED);

    private final StepStore steps;
    private final RoundStore rounds;
    private final ChainHoldStore holds;

    /** How a run stands; what is null is not known. */
    private record Kept(Map<String, StepNow> places, Integer round, Boolean held) {}

    /** How the runs stand that were moved last, as it is committed. */
    private final Map<Long, Kept> kept = new LinkedHashMap<>() {
        @Override
        protected boolean removeEldestEntry(Map.Entry<Long, Kept> eldest) {
            return size() > MOST_KEPT;
        }
    };

    /** Those that the transaction under way moves. */
    private final Map<Long, Of> moving = new HashMap<>();

    ChainSteps(StepStore steps, RoundStore rounds, ChainHoldStore holds) {
        this.steps = steps;
        this.rounds = rounds;
        this.holds = holds;
    }

    /**
     * How long those steps of a chain that run nothing, such as questions to people, usually took to end well: of each the
     * median of the latest runs.
     */
    @Transactional(readOnly = true)
    public Map<String, Duration> usualWithoutRun(long job) {
        Map<String, List<Duration>> known = new HashMap<>();
        steps.withoutRunLately(job, LATEST)
                .forEach(row -> known.computeIfAbsent((String) row[0], step -> new ArrayList<>())
                        .add(Duration.between((Instant) row[1], (Instant) row[2])));
        Map<String, Duration> usual = new HashMap<>();
        known.forEach((step, lengths) -> usual.put(step, median(lengths)));
        return usual;
    }

    /**
     * What became of the steps of a chain in its latest runs, where these went well.
     *
     * @param seldom those that did not run in most of them
     * @param turns how often each was done, where it is done again: the median
     */
    public record Lately(Set<String> seldom, Map<String, Integer> turns) {
        public static final Lately NOTHING = new Lately(Set.of(), Map.of());

        public Lately {
            seldom = Set.copyOf(seldom);
            turns = Map.copyOf(turns);
        }
    }

    @Transactional(readOnly = true)
    public Lately lately(long job) {
        Map<String, Integer> balance = new HashMap<>();
        Map<String, List<Integer>> turns = new HashMap<>();
        steps.placesLately(job, LATEST, WELL).forEach(row -> {
            boolean out = row[1] == Place.OUT_OF_REACH;
            balance.merge((String) row[0], out ? 1 : -1, Integer::sum);
            if (!out && (Integer) row[2] > 0) {
                turns.computeIfAbsent((String) row[0], step -> new ArrayList<>())
                        .add((Integer) row[2]);
            }
        });
        balance.values().removeIf(more -> more <= 0);
        Map<String, Integer> usual = new HashMap<>();
        turns.forEach((step, all) -> usual.put(step, median(all)));
        return new Lately(balance.keySet(), usual);
    }

    private static <T extends Comparable<T>> T median(List<T> all) {
        return all.stream().sorted().toList().get((all.size() - 1) / 2);
    }

    /**
     * The steps of a chain's run. Where they are is read at once; what else is known of a step only when somebody asks: of a
     * thousand steps most have ended, and are not looked at again.
     */
    public static final class Of {
        private static final int FEW = 8;
        private static final List<RunState> OPEN = List.of(RunState.WAITING, RunState.RUNNING);

        private final ChainSteps ledger;
        private final long run;
        private final Map<String, StepNow> places;
        private final Map<String, StepRecord> rows = new HashMap<>();

        private Integer round;
        private Boolean held;

        private Of(ChainSteps ledger, long run, Kept known) {
            this.ledger = ledger;
            this.run = run;
            this.places = known.places();
            this.round = known.round();
            this.held = known.held();
        }

        /** The round that the run is in, from 1. */
        public int round() {
            if (round == null) {
                round = ledger.round(run);
            }
            return round;
        }

        /** Whether somebody holds the run. */
        public boolean isHeld() {
            if (held == null) {
                held = ledger.held(run).isPresent();
            }
            return held;
        }

        private Kept toKeep() {
            return new Kept(now(), round, held);
        }

        /** The row of a step; a new one where it has none yet. */
        public StepRecord row(String step) {
            return find(step).orElseGet(() -> {
                StepRecord fresh = ledger.steps.save(new StepRecord(run, step));
                rows.put(step, fresh);
                return fresh;
            });
        }

        public Optional<StepRecord> find(String step) {
            StepRecord known = rows.get(step);
            if (known != null) {
                return Optional.of(known);
            }
            Optional<StepRecord> found = ledger.steps.findByRunNumberAndStep(run, step);
            found.ifPresent(row -> rows.put(step, row));
            return found;
        }

        /** All rows at once, for those who show them. */
        public Of readAll() {
            ledger.steps.findByRunNumber(run).forEach(row -> rows.putIfAbsent(row.step(), row));
            return this;
        }

        /**
         * The steps under way that wait for something other than a run, and those whose run has ended; of a few also the
         * others, which is less work than to tell them apart.
         */
        public List<StepRecord> toTakeIn() {
            List<String> underWay = now().entrySet().stream()
                    .filter(each -> each.getValue().place() == StepNow.Place.UNDER_WAY)
                    .map(Map.Entry::getKey)
                    .toList();
            if (underWay.isEmpty()) {
                return List.of();
            }
            List<StepRecord> found = new ArrayList<>();
            if (underWay.size() <= FEW) {
                found.addAll(ledger.steps.findByRunNumberAndStepIn(run, underWay));
            } else {
                found.addAll(ledger.steps.waiting(run));
                found.addAll(ledger.steps.ended(run, OPEN));
            }
            found.forEach(row -> rows.putIfAbsent(row.step(), row));
            return found;
        }

        /** The names of those that are under way. */
        public List<String> underWay() {
            return ledger.steps.underWay(run);
        }

        /** Where each step is of which something has become. */
        public Map<String, StepNow> now() {
            Map<String, StepNow> now = new HashMap<>(places);
            rows.forEach(
                    (name, row) -> row.now().ifPresentOrElse(where -> now.put(name, where), () -> now.remove(name)));
            return now;
        }
    }

    /** Reads the steps of a run, in the transaction under way. */
    @Transactional(propagation = Propagation.MANDATORY)
    public Of of(long run) {
        return new Of(this, run, read(run));
    }

    /**
     * The same for the engine's thread, which alone moves the steps of runs that are under way: it keeps in mind where they
     * are, since a long chain is looked at as often as it has steps.
     */
    @Transactional(propagation = Propagation.MANDATORY)
    public Of toMove(long run) {
        return moving.computeIfAbsent(run, number -> {
            Kept known = kept.remove(number);
            var rows = new Of(this, number, known == null ? read(number) : known);
            TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
                @Override
                public void afterCommit() {
                    kept.put(number, rows.toKeep());
                }

                @Override
                public void afterCompletion(int status) {
                    moving.remove(number);
                }
            });
            return rows;
        });
    }

    private Kept read(long run) {
        Map<String, StepNow> places = new HashMap<>();
        steps.places(run)
                .forEach(row -> places.put((String) row[0], new StepNow((StepNow.Place) row[1], (RunState) row[2])));
        return new Kept(places, null, null);
    }

    /** Has what is kept in mind of a run's round and hold be read anew. */
    private void changed(long run) {
        kept.remove(run);
        Of now = moving.get(run);
        if (now != null) {
            now.round = null;
            now.held = null;
        }
    }

    /** The runs with a step whose time is up. */
    @Transactional(readOnly = true)
    public List<Long> due(Instant now) {
        return steps.due(now);
    }

    /** The chains with a step whose time will be up. */
    @Transactional(readOnly = true)
    public List<Long> timed() {
        return steps.timed();
    }

    /** When the time of a step is up next, after a moment. */
    @Transactional(readOnly = true)
    public Optional<Instant> next(Instant after) {
        return steps.next(after);
    }

    /** The chains but one whose runs wait at a meeting, or have met there before. */
    @Transactional(readOnly = true)
    public List<String> comers(String meeting, String matched, String own) {
        return steps.comers(meeting, matched, own);
    }

    /** The runs that wait at a meeting. */
    @Transactional(readOnly = true)
    public List<Long> waitingAt(String meeting, String matched) {
        return steps.waitingAt(meeting, matched);
    }

    /** The steps that wait for something other than a run, the oldest first. */
    @Transactional(readOnly = true)
    List<StepRecord> waiting() {
        return steps.withoutRun(RunState.RUNNING);
    }

    /** The round that a run is in, from 1. */
    @Transactional(readOnly = true)
    public int round(long run) {
        return rounds.last(run).orElse(1);
    }

    /** What people did to a run. */
    @Transactional(readOnly = true)
    public List<ChainSight.Intervention> interventions(long run) {
        return rounds.findByRunNumberOrderById(run).stream()
                .map(RoundRecord::view)
                .toList();
    }

    /** Notes what somebody did. */
    public void note(long run, int round, String kind, String step, String person, String note, Instant now) {
        changed(run);
        rounds.save(new RoundRecord(run, round, kind, step, person, now, note));
    }

    public void hold(long run, String person, String why, Instant now) {
        changed(run);
        holds.save(new ChainHoldRecord(run, person, why, now));
    }

    public void letGo(long run) {
        changed(run);
        holds.findById(run).ifPresent(holds::delete);
    }

    /** Who holds a run; nothing where nobody does. */
    @Transactional(readOnly = true)
    public Optional<ChainSight.Held> held(long run) {
        return holds.findById(run).map(ChainHoldRecord::view);
    }
}
