package org.gantrel.core.definition;

import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import org.gantrel.core.action.Sql;
import org.gantrel.core.action.Sql.Mode;
import org.gantrel.core.yaml.Section;

/** Reads into which table rows go, and how. */
final class TableForm {

    private static final String IDENTIFIER = "[A-Za-z_][A-Za-z0-9_$]*(\\.[A-Za-z_][A-Za-z0-9_$]*)?";
    static final List<String> MODES = Stream.of(Mode.values()).map(Mode::word).toList();

    private TableForm() {}

    /** @param names what expressions may use */
    static Sql.ToTable read(Section table, Collection<String> names) {
        table.knowing("table", "mode", "database", "slice", "of", "columns", "key", "rows");
        String name = identifier(table, "table", "the table that takes the rows");
        Mode mode = CommonForm.word(table, "mode", MODES)
                .map(word -> Mode.values()[MODES.indexOf(word)])
                .orElse(Mode.APPEND);
        if (mode == Mode.SLICE && !(table.has("slice") && table.has("of"))) {
            table.complain("mode", "a slice needs its column and value: slice: sold_on, of: \"${day}\"");
        }
        Map<String, String> columns = table.map("columns", CommonForm.LONGEST_LINE);
        columns.keySet().forEach(column -> identified(table, "columns", column));
        List<String> key = table.texts("key", CommonForm.LONGEST_LINE);
        key.forEach(column -> identified(table, "key", column));
        if (mode.needsKey() && key.isEmpty()) {
            table.complain("key", "is missing: the columns that tell the rows of the table apart, such as [ number ]");
        }
        if (!columns.isEmpty()) {
            key.stream()
                    .filter(column -> !columns.containsKey(column))
                    .forEach(
                            column -> table.complain("key", "'" + column + "' is none of the columns that are filled"));
        }
        String of = table.text("of", CommonForm.LONGEST_LINE).orElse("");
        CommonForm.check(table, "of", of, names);
        String rows = table.text("rows", CommonForm.LONGEST_LINE).orElse("");
        if (!rows.isEmpty() && !rows.startsWith("/")) {
            table.complain("rows", "'" + rows + "' is no JSON pointer; one begins with /, such as /items");
        }
        return new Sql.ToTable(
                name,
                mode,
                table.has("database") ? CommonForm.name(table, "database", "a credential") : "",
                table.has("slice") ? identifier(table, "slice", "a column") : "",
                of,
                columns,
                key,
                rows);
    }

    private static String identifier(Section form, String key, String meaning) {
        String name = form.needed(key, 120, meaning);
        identified(form, key, name);
        return name;
    }

    private static void identified(Section form, String key, String name) {
        if (!name.isEmpty() && !name.matches(IDENTIFIER)) {
            form.complain(key, "'" + name + "' is no name of a table or column");
        }
    }
}
