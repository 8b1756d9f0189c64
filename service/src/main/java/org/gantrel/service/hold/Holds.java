package org.gantrel.service.hold;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.change.Changes;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The holds: laid by people, now or planned, and looked at before anything starts. */
@Component
@Transactional
public class Holds {

    private static final int MOST_OPEN = 100;
    private static final int LONGEST_WHY = 300;
    private static final Duration FARTHEST = Duration.ofDays(400);

    private final HoldStore store;
    private final Jobs jobs;
    private final Teams teams;
    private final Lanes lanes;
    private final Changes changes;
    private final Journal journal;
    private final Waker waker;
    private final Clock clock;
    private final CommittedCache<String, List<Hold>> open = new CommittedCache<>(1);

    Holds(
            HoldStore store,
            Jobs jobs,
            Teams teams,
            Lanes lanes,
            Changes changes,
            Journal journal,
            Waker waker,
            Clock clock) {
        this.store = store;
        this.jobs = jobs;
        this.teams = teams;
        this.lanes = lanes;
        this.changes = changes;
        this.journal = journal;
        this.waker = waker;
        this.clock = clock;
    }

    /** All that nobody has ended, those that are over by themselves too. Asked for in every step, so it is kept. */
    @Transactional(readOnly = true)
    public List<Hold> open() {
        return open.get("", key -> store.findByEndedAtIsNullOrderById().stream()
                .map(HoldRecord::value)
                .toList());
    }

    /** Those that hold at a moment. */
    public List<Hold> on(Instant now) {
        return open().stream().filter(hold -> hold.isOn(now)).toList();
    }

    /** The one of some holds that keeps a run from starting; one that skips goes before one that keeps. */
    public static Optional<Hold> holding(Collection<Hold> holds, String job, long team, Collection<String> lanes) {
        return holds.stream()
                .filter(hold -> hold.concerns(job, team, lanes))
                .min(Comparator.comparing((Hold hold) -> !hold.skips()).thenComparing(Hold::id));
    }

    /** Those of some holds that keep even what somebody under way has started: its steps are held where they are meant themselves. */
    public static List<Hold> ofParts(Collection<Hold> holds) {
        return holds.stream()
                .filter(hold -> hold.scope() == Hold.Scope.JOB || hold.scope() == Hold.Scope.LANE)
                .toList();
    }

    /** Those that keep a job from starting, now or later. */
    @Transactional(readOnly = true)
    public List<Hold> of(JobEntry job, Collection<String> lanes) {
        Instant now = clock.instant();
        return open().stream()
                .filter(hold -> !hold.isOver(now))
                .filter(hold -> hold.concerns(job.name(), job.teamId(), lanes))
                .toList();
    }

    /** When a hold begins or ends next by itself. */
    public Optional<Instant> next(Instant now) {
        return open().stream()
                .flatMap(hold -> Stream.concat(Stream.of(hold.from()), hold.until().stream()))
                .filter(at -> at.isAfter(now))
                .min(Comparator.naturalOrder());
    }

    /** Those that hold or are planned that a caller may know of, the latest first. */
    @Transactional(readOnly = true)
    public List<Hold> visible(Caller caller) {
        Instant now = clock.instant();
        return open().stream()
                .filter(hold -> !hold.isOver(now))
                .filter(sight(caller)::reaches)
                .sorted(Comparator.comparing(Hold::id).reversed())
                .toList();
    }

    /** All that a caller may know of and that were laid before another, those that are over too, the latest first. */
    @Transactional(readOnly = true)
    public List<Hold> ever(Caller caller, long before, int most) {
        Sight sight = sight(caller);
        return store.before(before, sight.teams(), sight.lanes(), Limit.of(most)).stream()
                .map(HoldRecord::value)
                .toList();
    }

    /** The holds that somebody may know of: beside those of the whole service these of teams and lanes. */
    private record Sight(Set<Long> teams, Set<String> lanes) {

        private boolean reaches(Hold hold) {
            return hold.scope() == Hold.Scope.SERVICE
                    || hold.scope() == Hold.Scope.LANE && lanes.contains(hold.name())
                    || hold.team().filter(teams::contains).isPresent();
        }
    }

    /** A hold of a lane concerns all teams that may use it; one of a lane that is gone is still its team's. */
    private Sight sight(Caller caller) {
        return new Sight(
                teams.all().stream()
                        .filter(team -> caller.may(Deed.SEE_JOBS, team.name()))
                        .map(Team::id)
                        .collect(Collectors.toSet()),
                lanes.visible(caller).stream().map(each -> each.lane().name()).collect(Collectors.toSet()));
    }

    /** Lays a hold. */
    public Hold lay(Caller caller, Hold wanted) {
        Optional<Team> team = teamOf(caller, wanted);
        team.ifPresentOrElse(
                owner -> caller.require(Deed.HOLD_WORK, owner.name()), () -> caller.require(Deed.HOLD_ALL));
        List<Problem> problems = problems(wanted.from(), wanted.until(), wanted.why());
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        // all of them are looked at in each step of the engine, and in each forecast
        long same = open().stream()
                .filter(hold -> !hold.isOver(clock.instant()))
                .filter(hold -> hold.team().equals(team.map(Team::id)))
                .count();
        if (same >= MOST_OPEN) {
            throw Refusal.conflict("there are " + MOST_OPEN + " holds of " + wanted.subject()
                    + " and what belongs to the same team already; one has to end first");
        }
        HoldRecord record =
                store.saveAndFlush(new HoldRecord(wanted, team.map(Team::id).orElse(null)));
        tell(caller, record.value(), team, "held");
        return record.value();
    }

    /** What is wrong with the time of a hold and its reason. */
    public List<Problem> problems(Instant from, Optional<Instant> until, String why) {
        var problems = new ArrayList<Problem>();
        Instant now = clock.instant();
        if (until.filter(end -> !end.isAfter(from) || !end.isAfter(now)).isPresent()) {
            problems.add(Problem.of(
                    "until",
                    until.get() + " is over, or before its beginning, " + from + "; a later moment would be right"));
        }
        if (from.isAfter(now.plus(FARTHEST))
                || until.filter(end -> end.isAfter(now.plus(FARTHEST.multipliedBy(2))))
                        .isPresent()) {
            problems.add(Problem.of("from", "a hold begins within 400 days and ends within 800"));
        }
        if (why.isBlank() || why.length() > LONGEST_WHY) {
            problems.add(Problem.of(
                    "why", "in 1 to " + LONGEST_WHY + " characters: who wonders why nothing starts is told it"));
        }
        return problems;
    }

    private Optional<Team> teamOf(Caller caller, Hold wanted) {
        String name =
                switch (wanted.scope()) {
                    case JOB -> {
                        JobEntry job = jobs.visible(caller, wanted.name());
                        yield job.team();
                    }
                    case LANE -> lanes.visible(caller, wanted.name()).lane().team();
                    case TEAM -> teams.visible(caller, wanted.name()).name();
                    case SERVICE -> "";
                };
        return name.isEmpty() ? Optional.empty() : teams.named(name);
    }

    /** Ends a hold. */
    public Hold end(Caller caller, long id) {
        HoldRecord record = store.findById(id)
                .filter(found -> sight(caller).reaches(found.value()))
                .orElseThrow(() -> Refusal.notFound("there is no hold " + id));
        Hold hold = record.value();
        Optional<Team> team = teams.all().stream()
                .filter(each -> hold.team().filter(each.id()::equals).isPresent())
                .findFirst();
        team.ifPresentOrElse(
                owner -> caller.require(Deed.HOLD_WORK, owner.name()), () -> caller.require(Deed.HOLD_ALL));
        if (record.isEnded()) {
            throw Refusal.conflict("hold " + id + " was ended already, by " + hold.endedBy());
        }
        record.end(clock.instant(), caller.name());
        tell(caller, record.value(), team, "released");
        return record.value();
    }

    /** Notes that what was under way is asked to stop. */
    public void stopped(long id) {
        store.findById(id).ifPresent(HoldRecord::stopped);
        open.changedAll();
    }

    private void tell(Caller caller, Hold hold, Optional<Team> team, String what) {
        open.changedAll();
        String owner = team.map(Team::name).orElse("");
        changes.record(
                caller, what, hold.scope().word(), hold.name().isEmpty() ? "gantrel" : hold.name(), owner, hold.why());
        journal.write(
                "gantrel.hold." + (what.equals("held") ? "laid" : "ended"),
                owner,
                Map.of("hold", hold.id(), "on", hold.subject(), "why", hold.why()));
        waker.wakeAfterCommit();
    }
}
