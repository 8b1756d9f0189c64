package org.gantrel.core.roster;

import java.nio.charset.Charset;
import java.time.Duration;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.action.Request;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.Bindings.Bound;
import org.gantrel.core.run.Emptiness;

/**
 * A table of parameter rows. Running a job over it is a sweep: a parent run, and a child run a row.
 *
 * @param columns the names of the columns, which are parameters of the jobs that run over it; empty where the source says
 * @param rows those that stand in the definition
 * @param source where rows are drawn from at each start; nothing for rows that are written down
 * @param memory which rows were handled already and are left out
 * @param manner how a sweep goes unless its start says otherwise
 */
public record Roster(
        String name,
        String team,
        String about,
        List<String> columns,
        List<Row> rows,
        Optional<Source> source,
        Memory memory,
        Manner manner) {

    /** The most rows that a sweep takes. */
    public static final int MOST_ROWS = 1_000_000;

    /** A row that is written down. */
    public record Row(Map<String, String> values, boolean included) {}

    /** Where rows come from. */
    public sealed interface Source {
        Source fill(Bindings known);

        /** What it is, in a few words. */
        String words();

        /** The credential that rows are drawn with; empty where none is needed. */
        default String credential() {
            return "";
        }
    }

    /** The rows of a query; columns are parameters. */
    public record FromQuery(String sql, Optional<Bound> bound, String credential) implements Source {
        @Override
        public FromQuery fill(Bindings known) {
            return new FromQuery(sql, Optional.of(known.bind(sql)), credential);
        }

        @Override
        public String words() {
            return "a query as " + credential;
        }
    }

    /**
     * The lines of a CSV file (RFC 4180), its first line naming the columns; or the objects of a JSON array.
     *
     * @param charset what a CSV file is written in
     */
    public record FromFile(String path, boolean json, Charset charset) implements Source {
        @Override
        public FromFile fill(Bindings known) {
            return new FromFile(known.fill(path), json, charset);
        }

        @Override
        public String words() {
            return "the file " + path;
        }
    }

    /** The files of a folder, in the one column {@code file}: its full path. */
    public record FromFolder(String folder, String matching) implements Source {
        @Override
        public FromFolder fill(Bindings known) {
            return new FromFolder(known.fill(folder), known.fillGlob(matching));
        }

        @Override
        public String words() {
            return "the files " + matching + " in " + folder;
        }
    }

    /** The objects of a JSON array that an address answers with. */
    public record FromAnswer(Request request, String credential) implements Source {
        @Override
        public FromAnswer fill(Bindings known) {
            return new FromAnswer(request.fill(known), credential);
        }

        @Override
        public String words() {
            return "the answer of " + request.address();
        }
    }

    /** An output of the latest good run of a job, a CSV or JSON file. */
    public record FromOutput(String job, String output) implements Source {
        @Override
        public FromOutput fill(Bindings known) {
            return new FromOutput(job, known.fill(output));
        }

        @Override
        public String words() {
            return "the output " + output + " of " + job;
        }
    }

    /**
     * What is remembered of rows that went well.
     *
     * @param key the columns that say which record a row stands for; empty where nothing is remembered
     * @param period after which it is forgotten; nothing for never
     * @param changing columns whose change makes a record new again
     */
    public record Memory(List<String> key, Optional<Duration> period, List<String> changing) {
        public static final Memory NONE = new Memory(List.of(), Optional.empty(), List.of());

        public boolean isKept() {
            return !key.isEmpty();
        }

        /** The record that a row stands for. */
        public String keyOf(Map<String, String> row) {
            return join(key, row);
        }

        /** What of a row makes it new when it changes. */
        public String stateOf(Map<String, String> row) {
            return join(changing, row);
        }

        private static String join(List<String> columns, Map<String, String> row) {
            return columns.stream()
                    .map(column -> row.getOrDefault(column, ""))
                    .reduce((one, other) -> one + " | " + other)
                    .orElse("");
        }
    }

    /** What a sweep does after a row that ended badly. */
    public enum AfterFailure {
        CARRY_ON,
        STOP;

        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /**
     * @param atOnce how many rows go side by side; 1 is in listed order
     * @param whenEmpty what it means that there are no rows
     */
    public record Manner(int atOnce, AfterFailure afterFailure, Emptiness whenEmpty) {
        public static final int MOST_AT_ONCE = 64;
        public static final Manner USUAL = new Manner(1, AfterFailure.CARRY_ON, Emptiness.SUCCEEDED);
    }

    public Roster {
        columns = List.copyOf(columns);
        rows = List.copyOf(rows);
    }
}
