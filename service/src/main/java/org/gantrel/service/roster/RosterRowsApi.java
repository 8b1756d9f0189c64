package org.gantrel.service.roster;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.io.StringReader;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.core.run.RunState;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.http.EditTag;
import org.gantrel.service.http.Paging;
import org.gantrel.service.roster.WrittenRows.Edit;
import org.gantrel.service.roster.WrittenRows.Edits;
import org.gantrel.service.team.Caller;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PatchMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The written rows of rosters: paged, edited one by one, and in and out as CSV (RFC 4180). */
@RestController
@RequestMapping("/api/v1/rosters/{name}")
@Transactional
class RosterRowsApi {

    @JsonInclude(JsonInclude.Include.NON_NULL)
    record RowView(int place, Map<String, String> values, boolean included, String lastState, Long lastRun) {}

    /** @param csv the first line names the columns; a column {@code include} of yes and no leaves rows out */
    record RowsBody(String csv) {}

    /**
     * @param rows how many there are now
     * @param warnings what of them the jobs that run over the roster could not take, by row and column
     */
    record CountView(int rows, List<String> warnings) {}

    record CsvView(String csv) {}

    record IncludeBody(boolean included) {}

    /**
     * What is to be different in a row, or a new row.
     *
     * @param place where it stands; left out for a new row, which goes to the end
     * @param values those that are left out stay, or in a new row are empty
     * @param included left out for as it was, and in a new row for yes
     */
    record RowBody(Integer place, Map<String, String> values, Boolean included) {
        Edit edit() {
            return new Edit(Optional.ofNullable(place).orElse(0), filled(), Optional.ofNullable(included));
        }

        Row row() {
            return new Row(filled(), included == null || included);
        }

        private Map<String, String> filled() {
            var filled = new LinkedHashMap<String, String>();
            Optional.ofNullable(values)
                    .ifPresent(all -> all.forEach((column, value) ->
                            filled.put(column, Optional.ofNullable(value).orElse(""))));
            return filled;
        }
    }

    /** @param removed the places of rows that go */
    record EditsBody(List<RowBody> changed, List<RowBody> added, List<Integer> removed) {
        Edits edits() {
            return new Edits(
                    orNone(changed).stream().map(RowBody::edit).toList(),
                    orNone(added).stream().map(RowBody::row).toList(),
                    orNone(removed));
        }

        private static <T> List<T> orNone(List<T> list) {
            List<T> given = Optional.ofNullable(list).orElse(List.of());
            if (given.stream().anyMatch(Objects::isNull)) {
                throw new InvalidException("rows", "null is no row");
            }
            return given;
        }
    }

    private final Rosters rosters;
    private final WrittenRows rows;
    private final RowUse use;
    private final Turn turn;

    RosterRowsApi(Rosters rosters, WrittenRows rows, RowUse use, Turn turn) {
        this.turn = turn;
        this.use = use;
        this.rosters = rosters;
        this.rows = rows;
    }

    @GetMapping("/rows")
    ResponseEntity<List<RowView>> rows(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestParam(defaultValue = "100") int limit,
            @RequestParam(defaultValue = "0") int after) {
        RosterRecord record = rosters.visible(caller, name);
        ResponseEntity<List<RowView>> page = Paging.page(
                rows.page(record, after, Paging.limit(limit) + 1),
                limit,
                RosterRow::place,
                row -> new RowView(
                        row.place(),
                        row.values(),
                        row.isIncluded(),
                        row.lastState().map(RunState::word).orElse(null),
                        row.lastRun().orElse(null)));
        return ResponseEntity.ok()
                .headers(page.getHeaders())
                .eTag(tag(record).toString())
                .body(page.getBody());
    }

    /** Puts rows in the place of those that were there. */
    @PutMapping("/rows")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    CountView load(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", defaultValue = "*") String ifMatch,
            @RequestBody RowsBody body) {
        return turn.changeRows(name, () -> loaded(caller, name, ifMatch, body));
    }

    private CountView loaded(Caller caller, String name, String ifMatch, RowsBody body) {
        RosterRecord record = rosters.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        requireTag(record, ifMatch);
        var roster = rosters.current(record);
        List<Row> fresh = parse(Optional.ofNullable(body.csv()).orElse(""), roster.columns());
        return new CountView(
                rows.load(caller, record, roster, fresh), use.complaints(caller, record.name(), fresh, List.of()));
    }

    /** Changes, adds and removes single rows, all of it or nothing. */
    @PatchMapping("/rows")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    CountView edit(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody EditsBody body) {
        return turn.changeRows(name, () -> edited(caller, name, ifMatch, body));
    }

    private CountView edited(Caller caller, String name, String ifMatch, EditsBody body) {
        RosterRecord record = rosters.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, record.team().name());
        requireTag(record, ifMatch);
        rows.edit(caller, record, rosters.current(record), body.edits());
        List<Row> touched = Stream.concat(
                        body.edits().changed().stream().map(edit -> new Row(edit.values(), true)),
                        body.edits().added().stream())
                .toList();
        return new CountView(rows.count(record), use.complaints(caller, record.name(), touched, List.of()));
    }

    private static EditTag tag(RosterRecord record) {
        return new EditTag(record.rowsRevision());
    }

    private static void requireTag(RosterRecord record, String ifMatch) {
        tag(record).require(ifMatch, "list of rows of " + record.name(), record::rowsBy);
    }

    @GetMapping("/csv")
    CsvView export(@AuthenticationPrincipal Caller caller, @PathVariable String name) throws IOException {
        RosterRecord record = rosters.visible(caller, name);
        List<String> columns = rosters.current(record).columns();
        var text = new StringWriter();
        try (CSVPrinter printer = new CSVPrinter(text, CSVFormat.RFC4180)) {
            var heading = new ArrayList<>(columns);
            heading.add(CsvRows.INCLUDE);
            printer.printRecord(heading);
            rows.each(record, row -> print(printer, columns, row));
        }
        return new CsvView(text.toString());
    }

    /** Leaves a row out of sweeps, or takes it in again. */
    @PutMapping("/rows/{place}/included")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void include(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @PathVariable int place,
            @RequestBody IncludeBody body) {
        turn.changeRows(name, () -> {
            rows.include(caller, rosters.visible(caller, name), place, body.included());
            return true;
        });
    }

    private static void print(CSVPrinter printer, List<String> columns, WrittenRows.Written row) {
        try {
            for (String column : columns) {
                printer.print(row.values().getOrDefault(column, ""));
            }
            printer.print(row.included() ? "yes" : "no");
            printer.println();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static List<Row> parse(String csv, List<String> columns) {
        var problems = new ArrayList<Problem>();
        var rows = new ArrayList<Row>();
        try {
            CsvRows.read(new StringReader(csv), columns, problems, values -> {
                var row = new LinkedHashMap<>(values);
                String include = row.remove(CsvRows.INCLUDE);
                rows.add(new Row(row, include == null || !include.strip().equalsIgnoreCase("no")));
            });
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return rows;
    }
}
