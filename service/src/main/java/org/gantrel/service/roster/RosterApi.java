package org.gantrel.service.roster;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.net.URI;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.RosterDefinition;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.core.run.RunState;
import org.gantrel.service.team.Caller;
import org.gantrel.service.web.EditTag;
import org.gantrel.service.web.Paging;
import org.gantrel.service.web.Refusal;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Rosters and their written rows, which go in and out as CSV (RFC 4180). */
@RestController
@RequestMapping("/api/v1/rosters")
@Transactional
class RosterApi {

    private static final String INCLUDE = "include";

    /** @param source where rows are drawn from; missing for rows that are written down */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record RosterView(
            String name,
            String team,
            String about,
            int revision,
            List<String> columns,
            String source,
            Integer rows,
            List<String> key,
            int atOnce,
            String afterFailure,
            String definition,
            boolean mayChange) {}

    @JsonInclude(JsonInclude.Include.NON_NULL)
    record RowView(int place, Map<String, String> values, boolean included, String lastState, Long lastRun) {}

    record RosterBody(String definition) {}

    /** @param csv the first line names the columns; a column {@code include} of yes and no leaves rows out */
    record RowsBody(String csv) {}

    record CsvView(String csv) {}

    record IncludeBody(boolean included) {}

    private final Rosters rosters;

    RosterApi(Rosters rosters) {
        this.rosters = rosters;
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
    ResponseEntity<RosterView> create(@AuthenticationPrincipal Caller caller, @RequestBody RosterBody body) {
        RosterDefinition definition = read(caller, body);
        String name = definition.roster().name();
        if (rosters.named(name).isPresent()) {
            throw Refusal.conflict("there is a roster '" + name + "' already; change it with PUT");
        }
        return answer(HttpStatus.CREATED, caller, rosters.save(caller, definition));
    }

    @PutMapping("/{name}")
    ResponseEntity<RosterView> change(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody RosterBody body) {
        RosterRecord record = rosters.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        new EditTag(record.revision()).require(ifMatch, "roster " + name, () -> rosters.changedBy(record));
        RosterDefinition definition = read(caller, body);
        if (!definition.roster().name().equals(name)) {
            throw new InvalidException("roster", "a roster keeps its name, '" + name + "'");
        }
        return answer(HttpStatus.OK, caller, rosters.save(caller, definition));
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void retire(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        rosters.retire(caller, name);
    }

    @GetMapping("/{name}/rows")
    ResponseEntity<List<RowView>> rows(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestParam(defaultValue = "100") int limit,
            @RequestParam(defaultValue = "0") int after) {
        RosterRecord record = rosters.visible(caller, name);
        return Paging.page(
                rosters.rows(record, after, Paging.limit(limit) + 1),
                limit,
                RosterRow::place,
                row -> new RowView(
                        row.place(),
                        row.values(),
                        row.isIncluded(),
                        row.lastState().map(RunState::word).orElse(null),
                        row.lastRun().orElse(null)));
    }

    /** Puts rows in the place of those that were there. */
    @PutMapping("/{name}/rows")
    RosterView changeRows(@AuthenticationPrincipal Caller caller, @PathVariable String name, @RequestBody RowsBody body)
            throws IOException {
        RosterRecord record = rosters.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        List<Row> rows = parse(
                body.csv() == null ? "" : body.csv(), rosters.current(record).columns());
        Iterator<Row> all = rows.iterator();
        rosters.changeRows(caller, record, all);
        return view(caller, rosters.visible(caller, name));
    }

    @GetMapping("/{name}/csv")
    CsvView export(@AuthenticationPrincipal Caller caller, @PathVariable String name) throws IOException {
        RosterRecord record = rosters.visible(caller, name);
        List<String> columns = rosters.current(record).columns();
        var text = new StringWriter();
        try (CSVPrinter printer = new CSVPrinter(text, CSVFormat.RFC4180)) {
            var heading = new ArrayList<>(columns);
            heading.add(INCLUDE);
            printer.printRecord(heading);
            rosters.eachRow(record, row -> print(printer, columns, row));
        }
        return new CsvView(text.toString());
    }

    /** Leaves a row out of sweeps, or takes it in again. */
    @PutMapping("/{name}/rows/{place}/included")
    void include(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @PathVariable int place,
            @RequestBody IncludeBody body) {
        rosters.include(caller, rosters.visible(caller, name), place, body.included());
    }

    private static void print(CSVPrinter printer, List<String> columns, Rosters.Written row) {
        try {
            for (String column : columns) {
                printer.print(row.values().getOrDefault(column, ""));
            }
            printer.print(row.included() ? "yes" : "no");
            printer.println();
        } catch (IOException e) {
            throw new java.io.UncheckedIOException(e);
        }
    }

    private static List<Row> parse(String csv, List<String> columns) throws IOException {
        var problems = new ArrayList<Problem>();
        var rows = new ArrayList<Row>();
        CsvRows.read(new StringReader(csv), columns, problems, values -> {
            var row = new LinkedHashMap<>(values);
            String include = row.remove(INCLUDE);
            rows.add(new Row(row, include == null || !include.strip().equalsIgnoreCase("no")));
        });
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return rows;
    }

    private RosterDefinition read(Caller caller, RosterBody body) {
        RosterDefinition definition = DefinitionReader.readRoster(body.definition() == null ? "" : body.definition());
        List<Problem> problems = rosters.problems(caller, definition);
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
                roster.source().isPresent() ? null : rosters.countRows(record),
                roster.memory().key(),
                roster.manner().atOnce(),
                roster.manner().afterFailure().word(),
                rosters.text(record),
                caller.may(Deed.DEFINE_JOBS, record.team().name()));
    }
}
