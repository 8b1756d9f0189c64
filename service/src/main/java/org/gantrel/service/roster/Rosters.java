package org.gantrel.service.roster;

import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.Places;
import org.gantrel.core.definition.RosterDefinition;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.change.Changes;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.context.annotation.Lazy;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The rosters, their revisions, and the rows that are written down. */
@Component
@Transactional
public class Rosters {

    private record Revised(long id, int revision) {}

    private final RosterStore store;
    private final RosterRevisionStore revisions;
    private final WrittenRows rows;
    private final Teams teams;
    private final Changes changes;
    private final SourceRights rights;
    private final Clock clock;
    /** Revisions never change, but one that was taken back may be made again with another text. */
    private final CommittedCache<Revised, Roster> read = new CommittedCache<>(2_000);

    Rosters(
            RosterStore store,
            RosterRevisionStore revisions,
            WrittenRows rows,
            Teams teams,
            Changes changes,
            @Lazy SourceRights rights,
            Clock clock) {
        this.rights = rights;
        this.store = store;
        this.revisions = revisions;
        this.rows = rows;
        this.teams = teams;
        this.changes = changes;
        this.clock = clock;
    }

    @Transactional(readOnly = true)
    List<RosterRecord> visible(Caller caller) {
        return store.inUse().stream()
                .filter(record -> caller.may(Deed.SEE_JOBS, record.team().name()))
                .toList();
    }

    @Transactional(readOnly = true)
    public RosterRecord visible(Caller caller, String name) {
        return store.named(name)
                .filter(record -> caller.may(Deed.SEE_JOBS, record.team().name()))
                .orElseThrow(() -> Refusal.notFound("there is no roster '" + name + "'"
                        + Nearest.hint(
                                name,
                                visible(caller).stream().map(RosterRecord::name).toList())));
    }

    /** A roster in use by its name. */
    @Transactional(readOnly = true)
    public Optional<RosterRecord> named(String name) {
        return store.named(name);
    }

    /** The names of the rosters that a caller may see. */
    @Transactional(readOnly = true)
    public List<String> names(Caller caller) {
        return visible(caller).stream().map(RosterRecord::name).toList();
    }

    /** The rosters in use whose rows are drawn with a credential: their names, with the teams that keep them. */
    @Transactional(readOnly = true)
    public Map<String, String> drawnWith(String credential) {
        return store.inUse().stream()
                .filter(record -> current(record)
                        .source()
                        .filter(source -> source.credential().equals(credential))
                        .isPresent())
                .collect(Collectors.toMap(
                        RosterRecord::name, record -> record.team().name(), (a, b) -> a, TreeMap::new));
    }

    /** The rosters in use whose rows are an output of a job: their names, with the teams that keep them. */
    @Transactional(readOnly = true)
    public Map<String, String> drawnFrom(String job) {
        return store.inUse().stream()
                .filter(record -> current(record)
                        .source()
                        .filter(source -> source instanceof Roster.FromOutput output
                                && output.job().equals(job))
                        .isPresent())
                .collect(Collectors.toMap(
                        RosterRecord::name, record -> record.team().name(), (a, b) -> a, TreeMap::new));
    }

    @Transactional(readOnly = true)
    public RosterRecord withId(long id) {
        return store.findById(id).orElseThrow();
    }

    /** What a roster is as of its latest revision. */
    @Transactional(readOnly = true)
    public Roster current(RosterRecord record) {
        return read.get(new Revised(record.id(), record.revision()), key -> DefinitionReader.readRoster(text(record))
                .roster());
    }

    String text(RosterRecord record) {
        return revisions
                .findByRosterIdAndRevision(record.id(), record.revision())
                .orElseThrow()
                .definition();
    }

    /** Who made the latest revision. */
    @Transactional(readOnly = true)
    public String changedBy(RosterRecord record) {
        return revisions
                .findByRosterIdAndRevision(record.id(), record.revision())
                .orElseThrow()
                .madeBy();
    }

    @Transactional(readOnly = true)
    List<RosterRevision> revisions(RosterRecord record) {
        return revisions.findTop100ByRosterIdOrderByRevisionDesc(record.id());
    }

    /** The definition that a roster has now; nothing where there is none in use. */
    @Transactional(readOnly = true)
    public Optional<String> currentText(String name) {
        return store.named(name).map(this::text);
    }

    /** The latest revision of a roster; 0 where there never was one. */
    @Transactional(readOnly = true)
    public int revision(String name) {
        return store.findByName(name).map(RosterRecord::revision).orElse(0);
    }

    /**
     * What speaks against a definition beyond its own text.
     *
     * @param jobs the names of jobs that are saved in the same breath
     */
    @Transactional(readOnly = true)
    public List<Problem> problems(Caller caller, RosterDefinition definition, Collection<String> jobs) {
        Roster roster = definition.roster();
        var problems = new ArrayList<Problem>();
        teams.complaint(caller, roster.team(), Deed.DEFINE_JOBS, "rosters of")
                .ifPresent(complaint ->
                        problems.add(Places.problem(definition.text(), definition.line(), "team", complaint)));
        store.findByName(roster.name())
                .filter(known -> !caller.may(Deed.DEFINE_JOBS, known.team().name()))
                .ifPresent(known -> problems.add(Places.problem(
                        definition.text(),
                        definition.line(),
                        "roster",
                        "the name '" + roster.name() + "' is taken by a roster you may not change")));
        if (problems.isEmpty()) {
            rights.complaint(caller, roster, jobs)
                    .ifPresent(complaint ->
                            problems.add(Places.problem(definition.text(), definition.line(), "from", complaint)));
        }
        return problems;
    }

    /**
     * Makes a roster, or gives it a new revision. Rows in the definition take the place of those that were there, unless
     * the revision before had the same: rows that were edited since are not put back by a change of something else.
     */
    public RosterRecord save(Caller caller, RosterDefinition definition) {
        Roster roster = definition.roster();
        Team team = teams.named(roster.team()).orElseThrow();
        caller.require(Deed.DEFINE_JOBS, team.name());
        Optional<RosterRecord> known = store.findByName(roster.name());
        RosterRecord record = known.orElseGet(() -> new RosterRecord(roster.name()));
        boolean sameRows = known.map(this::current)
                .filter(before -> before.rows().equals(roster.rows()))
                .isPresent();
        record.revise(roster, team);
        store.save(record);
        revisions.save(new RosterRevision(record, definition.text(), caller.name(), clock.instant()));
        read.changed(new Revised(record.id(), record.revision()));
        if (!roster.rows().isEmpty() && !sameRows) {
            rows.replace(caller, record, roster.rows().iterator());
        }
        changes.record(
                caller,
                known.isPresent() ? "changed" : "created",
                "roster",
                record.name(),
                team.name(),
                "revision " + record.revision());
        return record;
    }

    void retire(Caller caller, String name) {
        RosterRecord record = visible(caller, name);
        caller.require(Deed.RETIRE_JOBS, record.team().name());
        record.retire();
        changes.record(caller, "retired", "roster", name, record.team().name(), "");
    }
}
