package org.gantrel.core.action;

import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Bindings.Bound;
import org.gantrel.core.run.Emptiness;

/**
 * Statements for a database, in one transaction. Values reach them only beside the text, as bind values.
 *
 * @param statements as they are written
 * @param bound the same with their values apart; empty before they are filled
 * @param result where the rows of the last query go; nothing for the log alone
 * @param take queries whose first value is kept, by the value's name; asked after the statements
 * @param taking the same with their values apart
 * @param whenEmpty what it means that the last statement is a query and gives no row
 */
public record Sql(
        List<String> statements,
        List<Bound> bound,
        Optional<Result> result,
        Map<String, String> take,
        Map<String, Bound> taking,
        Emptiness whenEmpty)
        implements Action {

    public Sql {
        take = Collections.unmodifiableMap(new LinkedHashMap<>(take));
        taking = Collections.unmodifiableMap(new LinkedHashMap<>(taking));
    }

    /** Where rows go. */
    public sealed interface Result {
        Result fill(Bindings known);
    }

    /** Into a file among the run's outputs. */
    public record ToFile(String name, Format format) implements Result {
        @Override
        public ToFile fill(Bindings known) {
            return new ToFile(known.fill(name), format);
        }
    }

    /**
     * Into a table.
     *
     * @param database the credential of the other database; empty for the same one
     * @param slice for {@link Mode#SLICE}, the column whose rows of one value are replaced
     * @param of that value
     * @param columns the columns that are filled, each with the name of its value; empty for all values under their own names
     * @param key the columns that tell rows apart, where rows that are there are changed
     * @param rows for an answer, a JSON pointer (RFC 6901) to the array of its rows; empty for the whole
     */
    public record ToTable(
            String table,
            Mode mode,
            String database,
            String slice,
            String of,
            Map<String, String> columns,
            List<String> key,
            String rows)
            implements Result {

        public ToTable {
            columns = Collections.unmodifiableMap(new LinkedHashMap<>(columns));
            key = List.copyOf(key);
        }

        /** Rows whose values go into columns of their own names. */
        public ToTable(String table, Mode mode, String database, String slice, String of) {
            this(table, mode, database, slice, of, Map.of(), List.of(), "");
        }

        @Override
        public ToTable fill(Bindings known) {
            return new ToTable(table, mode, database, slice, known.fill(of), columns, key, rows);
        }
    }

    /** What happens to the rows that a table holds already. */
    public enum Mode {
        APPEND,
        REPLACE,
        SLICE,
        /** Those that are there are changed. */
        UPDATE,
        /** Those that are there are changed, and the others added. */
        MERGE;

        /** Whether rows have to be told apart. */
        public boolean needsKey() {
            return this == UPDATE || this == MERGE;
        }

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /** How a file of rows is written. */
    public enum Format {
        CSV,
        JSON,
        XLSX,
        HTML,
        PDF;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    @Override
    public String kind() {
        return "sql";
    }

    @Override
    public Sql fill(Bindings known) {
        var asked = new LinkedHashMap<String, Bound>();
        take.forEach((name, query) -> asked.put(name, known.bind(query)));
        return new Sql(
                statements,
                statements.stream().map(known::bind).toList(),
                result.map(each -> each.fill(known)),
                take,
                asked,
                whenEmpty);
    }

    @Override
    public List<String> credentials() {
        return result
                .filter(ToTable.class::isInstance)
                .map(each -> ((ToTable) each).database())
                .filter(name -> !name.isEmpty())
                .stream()
                .toList();
    }
}
