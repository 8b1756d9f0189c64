package org.gantrel.service.roster;

import jakarta.persistence.EntityManager;
import java.time.Clock;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Consumer;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.RosterDefinition;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.service.change.Changes;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.gantrel.service.web.Refusal;
import org.springframework.data.domain.Limit;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The rosters, their revisions, and the rows that are written down. */
@Component
@Transactional
public class Rosters {

    private static final int BATCH = 500;

    private record Revised(long id, int revision) {}

    private final RosterStore store;
    private final RosterRevisionStore revisions;
    private final RosterRowStore rows;
    private final EntityManager entities;
    private final Teams teams;
    private final Changes changes;
    private final Clock clock;
    private final Map<Revised, Roster> read = new ConcurrentHashMap<>();

    Rosters(
            RosterStore store,
            RosterRevisionStore revisions,
            RosterRowStore rows,
            EntityManager entities,
            Teams teams,
            Changes changes,
            Clock clock) {
        this.store = store;
        this.revisions = revisions;
        this.rows = rows;
        this.entities = entities;
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
    RosterRecord visible(Caller caller, String name) {
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

    @Transactional(readOnly = true)
    public List<String> names() {
        return store.inUse().stream().map(RosterRecord::name).toList();
    }

    /** The rosters in use whose rows are drawn with a credential. */
    @Transactional(readOnly = true)
    public List<String> drawnWith(String credential) {
        return store.inUse().stream()
                .filter(record -> current(record)
                        .source()
                        .filter(source -> source.credential().equals(credential))
                        .isPresent())
                .map(RosterRecord::name)
                .toList();
    }

    @Transactional(readOnly = true)
    public RosterRecord withId(long id) {
        return store.findById(id).orElseThrow();
    }

    /** What a roster is as of its latest revision. */
    @Transactional(readOnly = true)
    public Roster current(RosterRecord record) {
        return read.computeIfAbsent(
                new Revised(record.id(), record.revision()),
                key -> DefinitionReader.readRoster(text(record)).roster());
    }

    String text(RosterRecord record) {
        return revisions
                .findByRosterIdAndRevision(record.id(), record.revision())
                .orElseThrow()
                .definition();
    }

    String changedBy(RosterRecord record) {
        return revisions
                .findByRosterIdAndRevision(record.id(), record.revision())
                .orElseThrow()
                .madeBy();
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

    /** What speaks against a definition beyond its own text. */
    @Transactional(readOnly = true)
    public List<Problem> problems(Caller caller, RosterDefinition definition) {
        Roster roster = definition.roster();
        var problems = new ArrayList<Problem>();
        if (teams.named(roster.team()).isEmpty()) {
            problems.add(new Problem("team", definition.line(), 1, "there is no team '" + roster.team() + "'"));
        } else if (!caller.may(Deed.DEFINE_JOBS, roster.team())) {
            problems.add(new Problem(
                    "team",
                    definition.line(),
                    1,
                    "to define rosters of the team " + roster.team() + " takes the role "
                            + Deed.DEFINE_JOBS.least().word() + " there"));
        }
        store.findByName(roster.name())
                .filter(known -> !caller.may(Deed.DEFINE_JOBS, known.team().name()))
                .ifPresent(known -> problems.add(new Problem(
                        "roster",
                        definition.line(),
                        1,
                        "the name '" + roster.name() + "' is taken by a roster you may not change")));
        return problems;
    }

    /** Makes a roster, or gives it a new revision. Rows in the definition take the place of those that were there. */
    public RosterRecord save(Caller caller, RosterDefinition definition) {
        Roster roster = definition.roster();
        Team team = teams.named(roster.team()).orElseThrow();
        caller.require(Deed.DEFINE_JOBS, team.name());
        Optional<RosterRecord> known = store.findByName(roster.name());
        RosterRecord record = known.orElseGet(() -> new RosterRecord(roster.name()));
        record.revise(roster, team);
        store.save(record);
        revisions.save(new RosterRevision(record, definition.text(), caller.name(), clock.instant()));
        if (!roster.rows().isEmpty()) {
            replaceRows(record, roster.rows().iterator());
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

    /** Puts rows in the place of those that were there; says how many. */
    int changeRows(Caller caller, RosterRecord record, Iterator<Row> fresh) {
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        if (current(record).source().isPresent()) {
            throw new InvalidException(
                    "rows", "the rows of " + record.name() + " are drawn from data, not written down");
        }
        int count = replaceRows(record, fresh);
        changes.record(caller, "changed", "roster", record.name(), record.team().name(), Words.count(count, "row"));
        return count;
    }

    private int replaceRows(RosterRecord record, Iterator<Row> fresh) {
        rows.deleteBetween(Places.id(record.id(), 0), Places.id(record.id() + 1, 0));
        int place = 0;
        while (fresh.hasNext()) {
            if (place >= Roster.MOST_ROWS) {
                throw new InvalidException("rows", "more than " + Roster.MOST_ROWS + " rows are too many");
            }
            Row row = fresh.next();
            entities.persist(new RosterRow(record.id(), ++place, row.values(), row.included()));
            if (place % BATCH == 0) {
                entities.flush();
                entities.clear();
            }
        }
        return place;
    }

    void include(Caller caller, RosterRecord record, int place, boolean yes) {
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        rows.findById(Places.id(record.id(), place))
                .orElseThrow(() -> Refusal.notFound("the roster " + record.name() + " has no row " + place))
                .include(yes);
    }

    @Transactional(readOnly = true)
    List<RosterRow> rows(RosterRecord record, int after, int most) {
        return rows.page(Places.id(record.id(), after), Places.id(record.id() + 1, 0), Limit.of(most));
    }

    @Transactional(readOnly = true)
    int countRows(RosterRecord record) {
        return rows.countBetween(Places.id(record.id(), 0), Places.id(record.id() + 1, 0));
    }

    /** A written row as a sweep takes it. */
    public record Written(int place, Map<String, String> values, boolean included) {}

    /** Hands over every written row in order, a batch in memory at a time. */
    @Transactional(readOnly = true)
    public void eachRow(RosterRecord record, Consumer<Written> each) {
        int after = 0;
        List<RosterRow> page = rows(record, after, BATCH);
        while (!page.isEmpty()) {
            for (RosterRow row : page) {
                each.accept(new Written(row.place(), row.values(), row.isIncluded()));
                after = row.place();
            }
            entities.clear();
            page = rows(record, after, BATCH);
        }
    }

    /** Notes what became of a written row. */
    public void ended(long roster, int place, RunState state, long run) {
        rows.findById(Places.id(roster, place)).ifPresent(row -> row.ended(state, run));
    }
}
