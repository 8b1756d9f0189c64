package org.gantrel.service.roster;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.net.URI;
import java.util.List;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.RosterDefinition;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.service.change.Revision;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.http.EditTag;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Rosters and their definitions. */
@RestController
@RequestMapping("/api/v1/rosters")
@Transactional
class RosterApi {

    /**
     * @param source where rows are drawn from; missing for rows that are written down
     * @param lastSweep the latest run over it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record RosterView(
            String name,
            String team,
            String about,
            int revision,
            List<String> columns,
            String source,
            Integer rows,
            Long lastSweep,
            List<String> key,
            int atOnce,
            String afterFailure,
            String definition,
            boolean mayChange) {}

    record RosterBody(String definition) {}

    private final Rosters rosters;
    private final WrittenRows rows;
    private final RosterFacts facts;
    private final RosterUse use;
    private final Turn turn;

    RosterApi(Rosters rosters, WrittenRows rows, RosterFacts facts, RosterUse use, Turn turn) {
        this.turn = turn;
        this.use = use;
        this.rosters = rosters;
        this.rows = rows;
        this.facts = facts;
    }

    @GetMapping
    List<RosterView> list(@AuthenticationPrincipal Caller caller) {
        return rosters.visible(caller).stream().map(each -> view(caller, each)).toList();
    }

    @GetMapping("/{name}")
    ResponseEntity<RosterView> show(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        return answer(HttpStatus.OK, caller, rosters.visible(caller, name));
    }

    @PostMapping
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<RosterView> create(@AuthenticationPrincipal Caller caller, @RequestBody RosterBody body) {
        return turn.change(
                () -> created(caller, body),
                definition -> answer(HttpStatus.CREATED, caller, rosters.save(caller, definition)));
    }

    private RosterDefinition created(Caller caller, RosterBody body) {
        caller.requireSomewhere(Deed.DEFINE_JOBS);
        RosterDefinition definition = read(caller, body);
        String name = definition.roster().name();
        if (rosters.named(name).isPresent()) {
            throw Refusal.conflict("there is a roster '" + name + "' already; change it with PUT");
        }
        return definition;
    }

    @PutMapping("/{name}")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<RosterView> change(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody RosterBody body) {
        return turn.change(
                List.of(name),
                () -> changed(caller, name, ifMatch, body),
                definition -> answer(HttpStatus.OK, caller, rosters.save(caller, definition)));
    }

    private RosterDefinition changed(Caller caller, String name, String ifMatch, RosterBody body) {
        RosterRecord record = rosters.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        new EditTag(record.revision()).require(ifMatch, "roster " + name, () -> rosters.changedBy(record));
        RosterDefinition definition = read(caller, body);
        if (!definition.roster().name().equals(name)) {
            throw new InvalidException("roster", "a roster keeps its name, '" + name + "'");
        }
        return definition;
    }

    /** What it was defined as, newest first; rows that were edited since stand in none of these. */
    @GetMapping("/{name}/revisions")
    List<Revision.View> revisions(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        return rosters.revisions(rosters.visible(caller, name)).stream()
                .map(Revision::view)
                .toList();
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void retire(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        turn.perform(() -> retired(caller, name));
    }

    private void retired(Caller caller, String name) {
        caller.require(Deed.RETIRE_JOBS, rosters.visible(caller, name).team().name());
        use.refuseWhereUsed(caller, name);
        rosters.retire(caller, name);
    }

    private RosterDefinition read(Caller caller, RosterBody body) {
        RosterDefinition definition = DefinitionReader.readRoster(body.definition() == null ? "" : body.definition());
        List<Problem> problems = rosters.problems(caller, definition, List.of());
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return definition;
    }

    private ResponseEntity<RosterView> answer(HttpStatus status, Caller caller, RosterRecord record) {
        return ResponseEntity.status(status)
                .location(URI.create("/api/v1/rosters/" + record.name()))
                .eTag(new EditTag(record.revision()).toString())
                .body(view(caller, record));
    }

    private RosterView view(Caller caller, RosterRecord record) {
        Roster roster = rosters.current(record);
        return new RosterView(
                record.name(),
                record.team().name(),
                record.about(),
                record.revision(),
                roster.columns(),
                roster.source().map(Roster.Source::words).orElse(null),
                roster.source().isPresent() ? null : rows.count(record),
                facts.lastSweep(record.id()).orElse(null),
                roster.memory().key(),
                roster.manner().atOnce(),
                roster.manner().afterFailure().word(),
                rosters.text(record),
                caller.may(Deed.DEFINE_JOBS, record.team().name()));
    }
}
