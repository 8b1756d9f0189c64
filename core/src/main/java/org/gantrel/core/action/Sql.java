package org.gantrel.core.action;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Bindings.Bound;

/**
 * Statements for a database, in one transaction. Values reach them only beside the text, as bind values.
 *
 * @param statements as they are written
 * @param bound the same with their values apart; empty before they are filled
 * @param result where the rows of the last query go; nothing for the log alone
 */
public record Sql(List<String> statements, List<Bound> bound, Optional<Result> result) implements Action {

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
     */
    public record ToTable(String table, Mode mode, String database, String slice, String of) implements Result {
        @Override
        public ToTable fill(Bindings known) {
            return new ToTable(table, mode, database, slice, known.fill(of));
        }
    }

    /** What happens to the rows that a table holds already. */
    public enum Mode {
        APPEND,
        REPLACE,
        SLICE;

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
        return new Sql(statements, statements.stream().map(known::bind).toList(), result.map(each -> each.fill(known)));
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
