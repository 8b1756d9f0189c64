package org.gantrel.service.lane;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.LaneDefinition;
import org.gantrel.core.definition.Places;
import org.gantrel.core.lane.Fullness;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.Admission.LaneNow;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.change.Changes;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.time.Waker;
import org.springframework.context.annotation.Lazy;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The lanes: their definitions, how wide they are now, and whether they are closed. */
@Component
@Transactional
public class Lanes {

    private static final int LONGEST_WHY = 300;

    /**
     * A lane as it is now.
     *
     * @param definedWidth what its definition says; the width may have been changed since
     * @param shutBy who closed it; empty while it is open
     */
    public record State(long id, Lane lane, int revision, int width, int definedWidth, String shutBy, String shutWhy) {
        public boolean isOpen() {
            return shutBy.isEmpty();
        }
    }

    private record Revised(long id, int revision) {}

    private final LaneStore store;
    private final LaneRevisionStore revisions;
    private final LaneWidthStore widths;
    private final Teams teams;
    private final Changes changes;
    private final Journal journal;
    private final LaneUse use;
    private final Waker waker;
    private final Clock clock;
    private final CommittedCache<Revised, Lane> read = new CommittedCache<>(2_000);
    private final CommittedCache<String, Map<String, State>> states = new CommittedCache<>(1);

    Lanes(
            LaneStore store,
            LaneRevisionStore revisions,
            LaneWidthStore widths,
            Teams teams,
            Changes changes,
            Journal journal,
            @Lazy LaneUse use,
            Waker waker,
            Clock clock) {
        this.store = store;
        this.revisions = revisions;
        this.widths = widths;
        this.teams = teams;
        this.changes = changes;
        this.journal = journal;
        this.use = use;
        this.waker = waker;
        this.clock = clock;
    }

    /** All lanes in use, by name. Asked for in every step of the engine, so it is kept. */
    @Transactional(readOnly = true)
    public Map<String, State> all() {
        return states.get("", key -> {
            var all = new LinkedHashMap<String, State>();
            store.inUse().forEach(record -> all.put(record.name(), state(record)));
            return all;
        });
    }

    /** The same as admission looks at it. */
    public Map<String, LaneNow> now() {
        return all().values().stream()
                .collect(Collectors.toMap(
                        each -> each.lane().name(),
                        each -> new LaneNow(
                                each.width(),
                                each.isOpen()
                                        ? Optional.empty()
                                        : Optional.of("closed by " + each.shutBy()
                                                + (each.shutWhy().isEmpty() ? "" : ": " + each.shutWhy())))));
    }

    private State state(LaneRecord record) {
        Lane lane = read.get(new Revised(record.id(), record.revision()), key -> DefinitionReader.readLane(text(record))
                .lane());
        return new State(
                record.id(), lane, record.revision(), record.width(), lane.width(), record.shutBy(), record.shutWhy());
    }

    private String text(LaneRecord record) {
        return revisions
                .findByLaneIdAndRevision(record.id(), record.revision())
                .orElseThrow()
                .definition();
    }

    /** Whether somebody may see a lane: they see the jobs of its team, or of one that may use it. */
    public static boolean maySee(Caller caller, Lane lane) {
        return caller.may(Deed.SEE_JOBS, lane.team())
                || lane.forTeams().stream().anyMatch(team -> caller.may(Deed.SEE_JOBS, team));
    }

    @Transactional(readOnly = true)
    public List<State> visible(Caller caller) {
        return all().values().stream()
                .filter(each -> maySee(caller, each.lane()))
                .toList();
    }

    /**
     * A lane that a caller may see.
     *
     * @throws Refusal where there is none; it offers the nearest name
     */
    @Transactional(readOnly = true)
    public State visible(Caller caller, String name) {
        return Optional.ofNullable(all().get(name))
                .filter(found -> maySee(caller, found.lane()))
                .orElseThrow(() -> Refusal.notFound("there is no lane '" + brief(name) + "'"
                        + Nearest.hint(
                                name,
                                visible(caller).stream()
                                        .map(each -> each.lane().name())
                                        .toList())));
    }

    private static String brief(String name) {
        return name.length() <= 60 ? name : name.substring(0, 60) + "...";
    }

    /** The definition that a lane has now; nothing where there is none in use. */
    @Transactional(readOnly = true)
    public Optional<String> currentText(String name) {
        return store.named(name).map(this::text);
    }

    /** Who made the latest revision. */
    @Transactional(readOnly = true)
    public String changedBy(String name) {
        return store.named(name)
                .flatMap(record -> revisions.findByLaneIdAndRevision(record.id(), record.revision()))
                .map(LaneRevision::madeBy)
                .orElse("");
    }

    /** The latest revision of a lane; 0 where there never was one. */
    @Transactional(readOnly = true)
    public int revision(String name) {
        return store.findByName(name).map(LaneRecord::revision).orElse(0);
    }

    /** What is wrong with the lanes that a job names, its team's right to them and the places that it takes. */
    @Transactional(readOnly = true)
    public List<String> complaints(Caller caller, String team, Map<String, Integer> wanted, Collection<Lane> beside) {
        var complaints = new ArrayList<String>();
        Map<String, Lane> known = new LinkedHashMap<>();
        visible(caller).forEach(each -> known.put(each.lane().name(), each.lane()));
        beside.forEach(lane -> known.put(lane.name(), lane));
        wanted.forEach((name, places) -> {
            Lane lane = known.get(name);
            if (lane == null) {
                complaints.add("there is no lane '" + name + "'" + Nearest.hint(name, known.keySet()));
            } else if (!lane.isFor(team)) {
                complaints.add("the lane " + name + " is not for jobs of the team " + team
                        + "; its definition names the teams under 'for-teams'");
            } else if (places > lane.width()) {
                complaints.add("takes " + places + " places of the lane " + name + ", which has " + lane.width());
            }
        });
        return complaints;
    }

    /** What speaks against a definition beyond its own text. */
    @Transactional(readOnly = true)
    public List<Problem> problems(Caller caller, LaneDefinition definition, Collection<String> beside) {
        Lane lane = definition.lane();
        var problems = new ArrayList<Problem>();
        teams.complaint(caller, lane.team(), Deed.DEFINE_JOBS, "lanes of")
                .ifPresent(complaint -> problems.add(problem(definition, "team", complaint)));
        for (String team : lane.forTeams()) {
            if (teams.named(team).isEmpty()) {
                problems.add(problem(definition, "for-teams", teams.none(caller, team)));
            }
        }
        store.findByName(lane.name())
                .filter(record -> !caller.may(Deed.DEFINE_JOBS, record.team().name()))
                .ifPresent(record -> problems.add(problem(
                        definition, "lane", "the name '" + lane.name() + "' is taken by a lane you may not change")));
        if (problems.isEmpty()) {
            List<LaneUse.Needing> needing = use.needing(lane.name()).stream()
                    .filter(job -> !beside.contains(job.job()))
                    .toList();
            for (LaneUse.Needing job : needing) {
                String who = caller.may(Deed.SEE_JOBS, job.team()) ? job.words() : "a job";
                if (!lane.isFor(job.team())) {
                    problems.add(problem(
                            definition,
                            "for-teams",
                            who + " of the team " + job.team() + " needs it, and would wait for ever"));
                } else if (job.places() > lane.width()) {
                    problems.add(problem(
                            definition,
                            "width",
                            who + " of the team " + job.team() + " takes " + job.places()
                                    + " places, and would wait for ever"));
                }
            }
        }
        return problems;
    }

    private static Problem problem(LaneDefinition definition, String field, String message) {
        return Places.problem(definition.text(), definition.line(), field, message);
    }

    /** Makes a lane, or gives it a new revision. */
    public State save(Caller caller, LaneDefinition definition) {
        Lane lane = definition.lane();
        Team team = teams.named(lane.team()).orElseThrow();
        caller.require(Deed.DEFINE_JOBS, team.name());
        Optional<LaneRecord> known = store.findByName(lane.name());
        LaneRecord record = known.orElseGet(() -> new LaneRecord(lane.name()));
        int before = record.width();
        record.revise(lane, team);
        store.saveAndFlush(record);
        if (known.isEmpty() || before != record.width()) {
            widths.save(new LaneWidth(record, clock.instant()));
        }
        revisions.save(new LaneRevision(record, definition.text(), caller.name(), clock.instant()));
        changed(caller, record, known.isPresent() ? "changed" : "created", "revision " + record.revision());
        return state(record);
    }

    /** Gives a lane another width until its definition is changed; what is in it stays. */
    public State widen(Caller caller, String name, int width) {
        LaneRecord record = worked(caller, name);
        if (width < 1 || width > Lane.WIDEST) {
            throw new InvalidException(
                    "width", "'" + width + "': 1 to " + Lane.WIDEST + " places; to let nothing begin in it, close it");
        }
        int before = record.width();
        record.widen(width);
        if (before != width) {
            widths.save(new LaneWidth(record, clock.instant()));
        }
        changed(caller, record, "widened", "from " + before + " to " + width);
        return state(record);
    }

    /** How wide a lane was from one moment until another; before it was made, as wide as it was then. */
    @Transactional(readOnly = true)
    public List<Fullness.Span> widths(long lane, Instant from, Instant until) {
        var spans = new ArrayList<Fullness.Span>();
        Instant begin = from;
        int width = 0;
        List<LaneWidth> all =
                new ArrayList<>(widths.findFirstByLaneIdAndSinceLessThanEqualOrderByIdDesc(lane, from).stream()
                        .toList());
        all.addAll(widths.findByLaneIdAndSinceGreaterThanOrderById(lane, from));
        for (LaneWidth each : all) {
            // a clock that was put back leaves no gap
            Instant since = each.since().isAfter(until) ? until : each.since();
            if (width > 0 && since.isAfter(begin)) {
                spans.add(new Fullness.Span(begin, since, width));
                begin = since;
            }
            width = each.width();
        }
        spans.add(new Fullness.Span(begin, until, width));
        return spans;
    }

    /** Lets nothing more begin in a lane; what is in it goes on to its end. */
    public State shut(Caller caller, String name, String why) {
        LaneRecord record = worked(caller, name);
        if (why.length() > LONGEST_WHY) {
            throw new InvalidException("why", "at most " + LONGEST_WHY + " characters");
        }
        record.shut(caller.name(), why.strip());
        changed(caller, record, "closed", why.strip());
        return state(record);
    }

    public State open(Caller caller, String name) {
        LaneRecord record = worked(caller, name);
        record.open();
        changed(caller, record, "opened", "");
        return state(record);
    }

    /** Takes a lane out of use that no job needs. */
    public void retire(Caller caller, String name) {
        State state = visible(caller, name);
        caller.require(Deed.RETIRE_JOBS, state.lane().team());
        List<String> needing =
                use.needing(name).stream().map(LaneUse.Needing::words).sorted().toList();
        if (!needing.isEmpty()) {
            List<String> told = use.needing(name).stream()
                    .filter(job -> caller.may(Deed.SEE_JOBS, job.team()))
                    .map(LaneUse.Needing::words)
                    .sorted()
                    .toList();
            int others = needing.size() - told.size();
            throw Refusal.conflict("the lane " + name + " is needed by " + String.join(", ", told)
                    + (others == 0 ? "" : (told.isEmpty() ? "" : " and ") + others + " of other teams")
                    + "; take it out of their definitions first");
        }
        LaneRecord record = store.named(name).orElseThrow();
        record.retire();
        changed(caller, record, "retired", "");
    }

    private LaneRecord worked(Caller caller, String name) {
        caller.require(Deed.WORK_LANES, visible(caller, name).lane().team());
        return store.named(name).orElseThrow();
    }

    private void changed(Caller caller, LaneRecord record, String what, String details) {
        states.changedAll();
        read.changed(new Revised(record.id(), record.revision()));
        changes.record(caller, what, "lane", record.name(), record.team().name(), details);
        journal.write(
                "gantrel.lane.changed",
                record.team().name(),
                Map.of("lane", record.name(), "name", record.name(), "what", what));
        waker.wakeAfterCommit();
    }
}
