package org.gantrel.service.work;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.gantrel.core.action.Sql;
import org.gantrel.core.action.Sql.Mode;
import org.gantrel.core.action.Sql.Result;
import org.gantrel.core.action.Sql.ToFile;
import org.gantrel.core.action.Sql.ToTable;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.expression.Bindings.Bound;
import org.gantrel.core.run.Ending;
import org.gantrel.core.text.Words;
import org.springframework.stereotype.Component;

/** Runs statements in one transaction; the rows of the last query go where they are wanted. */
@Component
class SqlExecutor implements ActionExecutor<Sql> {

    private static final int ROWS_SHOWN = 20;
    private static final int FETCHED_AT_ONCE = 500;

    private final Databases databases;

    SqlExecutor(Databases databases) {
        this.databases = databases;
    }

    @Override
    public Class<Sql> type() {
        return Sql.class;
    }

    @Override
    public Ending perform(Sql sql, Execution work) throws Exception {
        Credential credential = work.actor().orElseThrow(SqlExecutor::nobody);
        try (Connection connection = databases.connect(credential)) {
            connection.setAutoCommit(false);
            var said = new ArrayList<String>();
            int last = sql.bound().size() - 1;
            for (int i = 0; i <= last; i++) {
                work.progress(i, last + 1, "statements");
                said.add(run(connection, sql.bound().get(i), i == last ? sql.result() : Optional.empty(), work));
            }
            connection.commit();
            return work.ending(Words.list(said));
        } catch (SQLException e) {
            throw new WorkFailed("the database said: " + e.getMessage());
        }
    }

    private static WorkFailed nobody() {
        return new WorkFailed("statements need a database: acts-as names a credential of the kind database");
    }

    private String run(Connection connection, Bound bound, Optional<Result> result, Execution work)
            throws SQLException, IOException {
        work.say(bound.text() + (bound.values().isEmpty() ? "" : "   with " + String.join(", ", bound.values())));
        try (PreparedStatement statement = prepare(connection, bound)) {
            work.onStop(() -> cancel(statement));
            if (!statement.execute()) {
                String counted = Words.count(statement.getLargeUpdateCount(), "row") + " changed";
                work.say(counted);
                return counted;
            }
            try (ResultSet rows = statement.getResultSet()) {
                String counted = deliver(rows, connection, result, work);
                work.say(counted);
                return counted;
            }
        }
    }

    private static void cancel(PreparedStatement statement) {
        try {
            statement.cancel();
        } catch (SQLException e) {
            // it has ended by itself meanwhile
            return;
        }
    }

    static PreparedStatement prepare(Connection connection, Bound bound) throws SQLException {
        PreparedStatement statement = connection.prepareStatement(bound.text());
        statement.setFetchSize(FETCHED_AT_ONCE);
        for (int i = 0; i < bound.values().size(); i++) {
            statement.setString(i + 1, bound.values().get(i));
        }
        return statement;
    }

    private String deliver(ResultSet rows, Connection connection, Optional<Result> result, Execution work)
            throws SQLException, IOException {
        if (result.isEmpty()) {
            return show(rows, work);
        }
        if (result.get() instanceof ToFile file) {
            Path target = work.output(file.name());
            long count = RowsFile.of(file.format()).write(rows, file.name(), target);
            return Words.count(count, "row") + " in " + file.name() + " (" + Files.size(target) + " bytes)";
        }
        var table = (ToTable) result.get();
        if (table.database().isEmpty()) {
            return load(rows, connection, table);
        }
        Credential other = work.credential(table.database()).orElseThrow();
        try (Connection target = databases.connect(other)) {
            target.setAutoCommit(false);
            String said = load(rows, target, table);
            target.commit();
            return said;
        }
    }

    private static String show(ResultSet rows, Execution work) throws SQLException {
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
        return Words.count(count, "row");
    }

    /** Puts rows into a table column by column name, in batches. */
    private static String load(ResultSet rows, Connection target, ToTable table) throws SQLException {
        int gone = 0;
        if (table.mode() != Mode.APPEND) {
            String slice = table.mode() == Mode.SLICE ? " where " + table.slice() + " = ?" : "";
            try (PreparedStatement delete = target.prepareStatement("delete from " + table.table() + slice)) {
                if (table.mode() == Mode.SLICE) {
                    delete.setString(1, table.of());
                }
                gone = delete.executeUpdate();
            }
        }
        List<String> names = names(rows.getMetaData());
        String marks = names.stream().map(name -> "?").collect(Collectors.joining(", "));
        long count = 0;
        try (PreparedStatement insert = target.prepareStatement(
                "insert into " + table.table() + " (" + String.join(", ", names) + ") values (" + marks + ")")) {
            while (rows.next()) {
                for (int i = 1; i <= names.size(); i++) {
                    insert.setObject(i, rows.getObject(i));
                }
                insert.addBatch();
                if (++count % FETCHED_AT_ONCE == 0) {
                    insert.executeBatch();
                }
            }
            insert.executeBatch();
        }
        return Words.count(count, "row") + " into " + table.table() + (gone > 0 ? " in place of " + gone : "");
    }

    static List<String> names(ResultSetMetaData columns) throws SQLException {
        var names = new ArrayList<String>();
        for (int i = 1; i <= columns.getColumnCount(); i++) {
            names.add(columns.getColumnLabel(i));
        }
        return names;
    }

    @Override
    public List<Rehearsed> rehearse(Sql sql, Optional<Credential> actor, Execution.HandsSource source) {
        var found = new ArrayList<Rehearsed>();
        for (Bound bound : sql.bound()) {
            String binds = IntStream.range(0, bound.values().size())
                    .mapToObj(i -> (i + 1) + ": " + bound.values().get(i))
                    .collect(Collectors.joining(", "));
            found.add(Rehearsed.does("statement", bound.text() + (binds.isEmpty() ? "" : "   with " + binds)));
        }
        sql.result()
                .ifPresent(result -> found.add(Rehearsed.does(
                        "rows go to",
                        result instanceof ToFile file
                                ? "the output " + file.name()
                                : "the table " + ((ToTable) result).table() + ", "
                                        + ((ToTable) result).mode().word())));
        if (actor.isEmpty()) {
            found.add(Rehearsed.wrong("database", nobody().getMessage()));
            return found;
        }
        try (Connection connection = databases.connect(actor.get())) {
            found.add(Rehearsed.fine("database", "signs in as " + actor.get().identity()));
            for (Bound bound : sql.bound()) {
                prepare(connection, bound).close();
            }
            found.add(Rehearsed.fine("statements", "the database can read them"));
        } catch (SQLException | WorkFailed e) {
            found.add(Rehearsed.wrong("database", e.getMessage()));
        }
        return found;
    }
}
