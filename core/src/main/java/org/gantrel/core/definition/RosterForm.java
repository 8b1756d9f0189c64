package org.gantrel.core.definition;

import java.nio.charset.Charset;
import java.nio.charset.IllegalCharsetNameException;
import java.nio.charset.StandardCharsets;
import java.nio.charset.UnsupportedCharsetException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.action.Request;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.core.roster.Roster.Manner;
import org.gantrel.core.roster.Roster.Memory;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.core.roster.Roster.Source;
import org.gantrel.core.yaml.Section;

/** Reads a roster. */
final class RosterForm {

    private static final String INCLUDED = "include";
    /** Where rows come from, with the keys that go with it. */
    private static final Map<String, List<String>> SOURCES = sources();

    static final List<String> AFTER =
            Stream.of(AfterFailure.values()).map(AfterFailure::word).toList();

    private RosterForm() {}

    static Roster read(Section section) {
        section.knowing(
                "roster",
                "team",
                "about",
                "columns",
                "rows",
                "from",
                "key",
                "handled",
                "at-once",
                "after-failure",
                "when-empty");
        List<String> columns = section.texts("columns", 40);
        columns.forEach(column -> column(section, column));
        Optional<Source> source = section.section("from").flatMap(RosterForm::source);
        if (section.has("rows") && section.has("from")) {
            section.complain("from", "rows are written down or drawn from data, not both");
        }
        List<Section> rows = section.sections("rows");
        if (columns.isEmpty() && !section.has("from")) {
            section.complain("columns", "is missing: the parameters that each row gives, such as " + columnsOf(rows));
        }
        return new Roster(
                CommonForm.name(section, "roster", "the name of the roster"),
                CommonForm.team(section),
                CommonForm.about(section),
                columns,
                rows(rows, columns),
                source,
                memory(section, columns),
                new Manner(
                        number(section, "at-once", 1, Manner.MOST_AT_ONCE),
                        CommonForm.word(section, "after-failure", AFTER)
                                .map(word -> AfterFailure.values()[AFTER.indexOf(word)])
                                .orElse(AfterFailure.CARRY_ON),
                        CommonForm.whenEmpty(section)));
    }

    /** What stands in the first row that is written down, or an example where that tells nothing. */
    private static String columnsOf(List<Section> rows) {
        return rows.stream()
                .limit(1)
                .map(row -> row.keys().stream()
                        .filter(key -> key.matches(Parameter.NAME) && !key.equals(INCLUDED))
                        .limit(10)
                        .collect(Collectors.joining(", ")))
                .filter(names -> !names.isEmpty())
                .findFirst()
                .map(names -> "[ " + names + " ]")
                .orElse("[ day, route ]");
    }

    private static void column(Section section, String column) {
        if (!column.matches(Parameter.NAME) || column.equals(INCLUDED)) {
            section.complain("columns", "'" + column + "' is no name of a column: that of a parameter would be");
        }
    }

    private static List<Row> rows(List<Section> forms, List<String> columns) {
        var rows = new ArrayList<Row>();
        var known = new ArrayList<>(columns);
        known.add(INCLUDED);
        for (Section form : forms) {
            if (!columns.isEmpty()) {
                form.knowing(known.toArray(String[]::new));
            }
            Map<String, String> values = new LinkedHashMap<>();
            for (String column : columns) {
                form.text(column, CommonForm.LONGEST_TEXT).ifPresent(text -> values.put(column, text));
            }
            rows.add(new Row(values, form.yes(INCLUDED, true)));
        }
        return rows;
    }

    private static Map<String, List<String>> sources() {
        Map<String, List<String>> sources = new LinkedHashMap<>();
        sources.put("sql", List.of("acts-as"));
        sources.put("csv", List.of("charset"));
        sources.put("json", List.of());
        sources.put("files", List.of("matching"));
        sources.put("request", List.of("acts-as", "headers"));
        sources.put("output", List.of("of"));
        return sources;
    }

    private static Optional<Source> source(Section form) {
        List<String> given = SOURCES.keySet().stream().filter(form::has).toList();
        if (given.size() != 1) {
            form.complain("", "rows come from one of " + String.join(", ", SOURCES.keySet()));
            return Optional.empty();
        }
        form.knowing(
                Stream.concat(given.stream(), SOURCES.get(given.get(0)).stream())
                        .toList(),
                SOURCES);
        String credential = form.has("acts-as") ? CommonForm.name(form, "acts-as", "a credential") : "";
        String text = form.text(given.get(0), CommonForm.LONGEST_TEXT).orElse("");
        CommonForm.check(form, given.get(0), text, List.of());
        return Optional.of(
                switch (given.get(0)) {
                    case "sql" -> query(form, text, credential);
                    case "csv" -> new Roster.FromFile(text, false, charset(form));
                    case "json" -> new Roster.FromFile(text, true, StandardCharsets.UTF_8);
                    case "files" -> new Roster.FromFolder(text, matching(form));
                    case "request" -> new Roster.FromAnswer(Request.get(text, headers(form)), credential);
                    default -> new Roster.FromOutput(form.needed("of", 60, "the job that left the output"), text);
                });
    }

    private static Map<String, String> headers(Section form) {
        Map<String, String> headers = form.map("headers", CommonForm.LONGEST_TEXT);
        headers.values().forEach(text -> CommonForm.check(form, "headers", text, List.of()));
        return headers;
    }

    private static Charset charset(Section form) {
        String name = form.text("charset", 40).orElse("UTF-8");
        try {
            return Charset.forName(name);
        } catch (IllegalCharsetNameException | UnsupportedCharsetException e) {
            form.complain("charset", "'" + name + "' is no character set; UTF-8, windows-1252 or ISO-8859-1 would be");
            return StandardCharsets.UTF_8;
        }
    }

    private static Source query(Section form, String sql, String credential) {
        if (credential.isEmpty()) {
            form.complain("acts-as", "is missing: a query needs a credential of the kind database");
        }
        return new Roster.FromQuery(sql, Optional.empty(), credential);
    }

    private static Memory memory(Section section, List<String> columns) {
        List<String> key = section.texts("key", 40);
        Optional<Section> handled = section.section("handled");
        handled.ifPresent(form -> form.knowing("once", "again-when"));
        if (key.isEmpty() && handled.isPresent()) {
            section.complain("handled", "goes with 'key': the columns that say which record a row stands for");
        }
        if (!columns.isEmpty()) {
            key.stream()
                    .filter(column -> !columns.contains(column))
                    .forEach(column -> section.complain("key", "'" + column + "' is no column of the roster"));
        }
        if (handled.isEmpty()) {
            return new Memory(key, Optional.empty(), List.of());
        }
        boolean ever = handled.get().text("once", 40).orElse("ever").equals("ever");
        return new Memory(
                key,
                ever ? Optional.empty() : CommonForm.duration(handled.get(), "once", "P3660D"),
                handled.get().texts("again-when", 40));
    }

    private static int number(Section section, String key, int fallback, int most) {
        String text = section.text(key, 10).orElse(String.valueOf(fallback));
        if (!text.matches("\\d{1,6}") || Integer.parseInt(text) < 1 || Integer.parseInt(text) > most) {
            section.complain(key, "'" + text + "': a number from 1 to " + most + " is expected");
            return fallback;
        }
        return Integer.parseInt(text);
    }

    private static String matching(Section form) {
        String glob = form.text("matching", 300).orElse("*");
        CommonForm.glob(form, "matching", glob);
        return glob;
    }
}
