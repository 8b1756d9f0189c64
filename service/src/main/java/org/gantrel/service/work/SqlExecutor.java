package org.gantrel.service.work;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.JDBCType;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.Savepoint;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Consumer;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.core.action.Sql;
import org.gantrel.core.action.Sql.Result;
import org.gantrel.core.action.Sql.ToFile;
import org.gantrel.core.action.Sql.ToTable;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.expression.Bindings.Bound;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.durable.RoomToKeep;
import org.gantrel.service.refusal.Refusal;
import org.springframework.stereotype.Component;

/** Runs statements in one transaction; the rows of the last query go where they are wanted. */
@Component
class SqlExecutor implements ActionExecutor<Sql> {

    /** H2's codes for values whose type it cannot tell. */
    private static final Set<Integer> UNTYPED = Set.of(90_008, 90_110, 50_004);

    private static final int ROWS_SHOWN = 20;
    private static final int LONGEST_SHOWN = 80;

    /** How many rows a driver is to bring at a time; nobody knows how wide they are. */
    static final int FETCHED_AT_ONCE = 100;

    private final Databases databases;
    private final RoomToKeep room;

    SqlExecutor(Databases databases, RoomToKeep room) {
        this.databases = databases;
        this.room = room;
    }

    @Override
    public Class<Sql> type() {
        return Sql.class;
    }

    @Override
    public Ending perform(Sql sql, Execution work) throws Exception {
        Credential credential = work.actor().orElseThrow(SqlExecutor::nobody);
        try (Connection connection = databases.connect(credential, work)) {
            connection.setAutoCommit(false);
            var said = new ArrayList<String>();
            int last = sql.bound().size() - 1;
            boolean empty = false;
            boolean lacking = false;
            for (int i = 0; i <= last; i++) {
                work.progress(i, last + 1, "statements");
                Delivered done = run(connection, sql.bound().get(i), i == last ? sql.result() : Optional.empty(), work);
                said.add(done.said());
                empty = done.isQuery() && done.rows() == 0;
                lacking |= done.lacking();
            }
            for (Map.Entry<String, Bound> asked : sql.taking().entrySet()) {
                take(connection, asked.getKey(), asked.getValue(), work);
            }
            connection.commit();
            if (lacking) {
                return new Ending(RunState.WARNED, Words.list(said));
            }
            return empty
                    ? sql.whenEmpty().ending("the query gave no row").orElse(work.ending(Words.list(said)))
                    : work.ending(Words.list(said));
        } catch (SQLException e) {
            throw new WorkFailed("the database said: " + e.getMessage());
        }
    }

    private static WorkFailed nobody() {
        return new WorkFailed("statements need a database: acts-as names a credential of the kind database");
    }

    /**
     * What became of a statement.
     *
     * @param isQuery whether it gave rows, rather than changing some
     * @param lacking whether a file of it lacks letters
     */
    private record Delivered(boolean isQuery, long rows, String said, boolean lacking) {
        private Delivered(boolean isQuery, long rows, String said) {
            this(isQuery, rows, said, false);
        }
    }

    private static void take(Connection connection, String name, Bound query, Execution work) throws SQLException {
        try (PreparedStatement statement = executed(connection, query, each -> work.onStop(() -> cancel(each)));
                ResultSet rows = statement.getResultSet()) {
            if (rows == null || !rows.next()) {
                throw new WorkFailed("the query for " + name + " gave no row");
            }
            String value = Optional.ofNullable(rows.getString(1)).orElse("");
            work.result(name, value);
            work.say(name + " = " + value);
        }
    }

    private Delivered run(Connection connection, Bound bound, Optional<Result> result, Execution work)
            throws SQLException, IOException {
        work.say(bound.text() + (bound.values().isEmpty() ? "" : "   with " + String.join(", ", bound.values())));
        try (PreparedStatement statement = executed(connection, bound, each -> work.onStop(() -> cancel(each)));
                ResultSet rows = statement.getResultSet()) {
            Delivered done = rows == null
                    ? new Delivered(
                            false, 0, Words.count(Math.max(0, statement.getLargeUpdateCount()), "row") + " changed")
                    : deliver(rows, connection, result, work);
            work.say(done.said());
            return done;
        }
    }

    static void cancel(PreparedStatement statement) {
        try {
            statement.cancel();
        } catch (SQLException e) {
            // it has ended by itself meanwhile
            return;
        }
    }

    /**
     * A statement that was executed. Values are handed over as texts, which take the type of what they stand beside; where the
     * database cannot tell that, they are handed over again as what they are.
     *
     * @param begun is told of the statement before it is executed
     */
    static PreparedStatement executed(Connection connection, Bound bound, Consumer<PreparedStatement> begun)
            throws SQLException {
        boolean again = !bound.typed().equals(bound.text());
        Savepoint before = again && !connection.getAutoCommit() ? connection.setSavepoint() : null;
        try {
            return executed(connection, bound.text(), bound.values(), begun);
        } catch (SQLException e) {
            if (!again || !isOfTypes(e)) {
                throw e;
            }
            if (before != null) {
                connection.rollback(before);
            }
            try {
                return executed(connection, bound.typed(), bound.values(), begun);
            } catch (SQLException other) {
                e.addSuppressed(other);
                throw e;
            }
        }
    }

    /** Classes 22 and 42 of SQL:2016 are data that does not fit and statements that cannot be read; the rest are H2's own. */
    private static boolean isOfTypes(SQLException e) {
        String state = String.valueOf(e.getSQLState());
        return state.startsWith("22") || state.startsWith("42") || UNTYPED.contains(e.getErrorCode());
    }

    private static PreparedStatement executed(
            Connection connection, String text, List<String> values, Consumer<PreparedStatement> begun)
            throws SQLException {
        PreparedStatement statement = connection.prepareStatement(text);
        try {
            statement.setFetchSize(FETCHED_AT_ONCE);
            for (int i = 0; i < values.size(); i++) {
                statement.setString(i + 1, values.get(i));
            }
            begun.accept(statement);
            statement.execute();
            return statement;
        } catch (SQLException e) {
            statement.close();
            throw e;
        }
    }

    /** Has a database read a statement without executing it; what its rows have is nothing where it gives none. */
    private static Optional<ResultSetMetaData> read(Connection connection, Bound bound) throws SQLException {
        try {
            return read(connection, bound.text());
        } catch (SQLException e) {
            if (bound.typed().equals(bound.text())) {
                throw e;
            }
            try {
                return read(connection, bound.typed());
            } catch (SQLException other) {
                e.addSuppressed(other);
                throw e;
            }
        }
    }

    private static Optional<ResultSetMetaData> read(Connection connection, String text) throws SQLException {
        // the statement stays open as long as the connection: what is known of its rows hangs on it
        PreparedStatement statement = connection.prepareStatement(text);
        statement.closeOnCompletion();
        statement.getParameterMetaData();
        return Optional.ofNullable(statement.getMetaData());
    }

    private Delivered deliver(ResultSet rows, Connection connection, Optional<Result> result, Execution work)
            throws SQLException, IOException {
        if (result.isEmpty()) {
            long count = show(rows, work);
            return new Delivered(true, count, Words.count(count, "row"));
        }
        if (result.get() instanceof ToFile file) {
            Path target = work.output(file.name());
            RowsFile.Written done;
            try (OutputStream stream = room.open(target)) {
                done = RowsFile.of(file.format(), work.run().planned().zone()).write(rows, file.name(), stream);
            }
            if (done.lost() > 0) {
                work.say("warning: the font of " + file.name() + " lacks " + Words.count(done.lost(), "letter")
                        + ", shown as a box");
            }
            return new Delivered(
                    true,
                    done.rows(),
                    Words.count(done.rows(), "row") + " in " + file.name() + " (" + Files.size(target) + " bytes)"
                            + (done.lost() == 0 ? "" : ", " + Words.count(done.lost(), "letter") + " not shown"),
                    done.lost() > 0);
        }
        var table = (ToTable) result.get();
        if (table.database().isEmpty()) {
            return load(rows, connection, table, work);
        }
        Credential other = work.credential(table.database()).orElseThrow();
        try (Connection target = databases.connect(other, work)) {
            target.setAutoCommit(false);
            Delivered done = load(rows, target, table, work);
            target.commit();
            return done;
        }
    }

    private static long show(ResultSet rows, Execution work) throws SQLException {
        ResultSetMetaData columns = rows.getMetaData();
        work.say(names(columns).stream().collect(Collectors.joining(" | ")));
        long count = 0;
        while (rows.next()) {
            if (count++ < ROWS_SHOWN) {
                var cells = new ArrayList<String>();
                for (int i = 1; i <= columns.getColumnCount(); i++) {
                    cells.add(Optional.ofNullable(rows.getString(i)).orElse(""));
                }
                work.say(String.join(" | ", cells));
            }
            if (count == 1 && columns.getColumnCount() == 1) {
                work.result(columns.getColumnLabel(1).toLowerCase(java.util.Locale.ROOT), rows.getString(1) + "");
            }
        }
        return count;
    }

    private static Delivered load(ResultSet rows, Connection target, ToTable table, Execution work)
            throws SQLException {
        TableLoad.Loaded loaded = TableLoad.load(TableLoad.of(rows), target, table);
        results(loaded, work);
        return new Delivered(true, loaded.rows(), loaded.words(table.table()));
    }

    static void results(TableLoad.Loaded loaded, Execution work) {
        work.result("rows", String.valueOf(loaded.rows()));
        work.result("inserted", String.valueOf(loaded.inserted()));
        work.result("updated", String.valueOf(loaded.updated()));
    }

    static List<String> names(ResultSetMetaData columns) throws SQLException {
        var names = new ArrayList<String>();
        for (int i = 1; i <= columns.getColumnCount(); i++) {
            names.add(columns.getColumnLabel(i));
        }
        return names;
    }

    @Override
    public List<Rehearsed> rehearse(Sql sql, Rehearsing around) {
        var found = new ArrayList<Rehearsed>();
        sql.bound().forEach(bound -> found.add(Rehearsed.does("statement", words(bound))));
        sql.taking().forEach((name, bound) -> found.add(Rehearsed.does("takes " + name, words(bound))));
        sql.result()
                .ifPresent(result -> found.add(Rehearsed.does(
                        "rows go to",
                        result instanceof ToFile file
                                ? "the output " + file.name()
                                : "the table " + ((ToTable) result).table() + ", "
                                        + ((ToTable) result).mode().word())));
        if (around.actor().isEmpty()) {
            found.add(Rehearsed.wrong("database", nobody().getMessage()));
            return found;
        }
        try (Connection connection = databases.connect(around.actor().get())) {
            found.add(Rehearsed.fine(
                    "database", "signs in as " + around.actor().get().identity()));
            Optional<ResultSetMetaData> last = Optional.empty();
            boolean makes = false;
            for (Bound bound : sql.bound()) {
                try {
                    last = read(connection, bound);
                    makes |= bound.text().strip().matches("(?is)(create|alter|drop)\\b.*");
                } catch (SQLException e) {
                    last = Optional.empty();
                    found.add(
                            makes
                                    ? Rehearsed.untried(
                                            "statement",
                                            "what an earlier statement makes is not there yet: " + first(bound.text()))
                                    : Rehearsed.wrong("statement", first(bound.text()) + ": " + e.getMessage()));
                }
            }
            for (Map.Entry<String, Bound> asked : sql.taking().entrySet()) {
                readOrSay(connection, "takes " + asked.getKey(), asked.getValue(), found);
            }
            if (found.stream().noneMatch(line -> line.kind() == Rehearsed.Kind.WRONG)) {
                found.add(Rehearsed.fine("statements", "the database can read them"));
            }
            if (sql.result().orElse(null) instanceof ToTable table && last.isPresent()) {
                found.add(fits(last.get(), connection, table, around));
            }
        } catch (SQLException | WorkFailed | Refusal e) {
            found.add(Rehearsed.wrong("database", e.getMessage()));
        }
        return found;
    }

    /** Has a database read a query without asking it. */
    static void readOrSay(Connection connection, String what, Bound query, List<Rehearsed> found) {
        try {
            if (read(connection, query).isEmpty()) {
                found.add(Rehearsed.wrong(what, "is no query: " + first(query.text())));
            }
        } catch (SQLException e) {
            found.add(Rehearsed.wrong(what, e.getMessage()));
        }
    }

    private static String words(Bound bound) {
        String binds = IntStream.range(0, bound.values().size())
                .mapToObj(i -> (i + 1) + ": " + bound.values().get(i))
                .collect(Collectors.joining(", "));
        return bound.text() + (binds.isEmpty() ? "" : "   with " + binds);
    }

    private static String first(String statement) {
        String line = statement.strip().replaceAll("\\s+", " ");
        return line.length() <= LONGEST_SHOWN ? line : line.substring(0, LONGEST_SHOWN) + "...";
    }

    /** Whether a table has the columns that rows bring, of types that can take them. */
    private Rehearsed fits(ResultSetMetaData rows, Connection connection, ToTable table, Rehearsing around)
            throws SQLException {
        String title = "table " + table.table();
        if (!table.database().isEmpty()) {
            Credential other = around.credential(table.database()).orElseThrow();
            try (Connection target = databases.connect(other)) {
                return fits(rows, target, table, title);
            }
        }
        return fits(rows, connection, table, title);
    }

    private static Rehearsed fits(ResultSetMetaData rows, Connection target, ToTable table, String title)
            throws SQLException {
        List<String> names = names(rows);
        if (!table.columns().isEmpty() || table.mode().needsKey()) {
            return columnsFit(names, target, table, title);
        }
        ResultSetMetaData columns;
        try {
            columns = read(
                            target,
                            "select " + String.join(", ", names)
                                    + (table.slice().isEmpty() ? "" : ", " + table.slice()) + " from " + table.table()
                                    + " where 1 = 0")
                    .orElseThrow();
        } catch (SQLException e) {
            return Rehearsed.wrong(title, e.getMessage());
        }
        var wrong = new ArrayList<String>();
        for (int i = 1; i <= names.size(); i++) {
            String from = family(rows.getColumnType(i));
            String to = family(columns.getColumnType(i));
            if (!from.equals(to) && !from.equals("text") && !to.equals("text")) {
                wrong.add("column " + names.get(i - 1) + " takes " + to + ", and the rows bring " + from);
            }
        }
        return wrong.isEmpty()
                ? Rehearsed.fine(title, "has the columns " + String.join(", ", names))
                : Rehearsed.wrong(title, String.join("; ", wrong));
    }

    /** Whether chosen columns are there, and the values that they take. */
    private static Rehearsed columnsFit(List<String> names, Connection target, ToTable table, String title) {
        List<String> columns = Stream.concat(
                        table.columns().isEmpty() ? names.stream() : table.columns().keySet().stream(),
                        table.key().stream())
                .distinct()
                .toList();
        Optional<String> missing = table.columns().values().stream()
                .filter(name -> names.stream().noneMatch(name::equalsIgnoreCase))
                .findFirst();
        if (missing.isPresent()) {
            return Rehearsed.wrong(
                    title, "the rows have no value '" + missing.get() + "'; there are " + String.join(", ", names));
        }
        return tableHas(target, table, columns, title);
    }

    /** Whether a table has some columns. */
    static Rehearsed tableHas(Connection target, ToTable table, List<String> columns, String title) {
        try {
            read(target, "select " + String.join(", ", columns) + " from " + table.table() + " where 1 = 0");
            return Rehearsed.fine(title, "has the columns " + String.join(", ", columns));
        } catch (SQLException e) {
            return Rehearsed.wrong(title, e.getMessage());
        }
    }

    private static String family(int type) {
        return switch (JDBCType.valueOf(type)) {
            case TINYINT, SMALLINT, INTEGER, BIGINT, FLOAT, REAL, DOUBLE, NUMERIC, DECIMAL -> "numbers";
            case DATE, TIMESTAMP, TIMESTAMP_WITH_TIMEZONE -> "dates";
            case TIME, TIME_WITH_TIMEZONE -> "times";
            case BOOLEAN, BIT -> "yes or no";
            case BINARY, VARBINARY, LONGVARBINARY, BLOB -> "bytes";
            default -> "text";
        };
    }
}
