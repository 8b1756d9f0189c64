package org.gantrel.service.work;

import java.sql.Connection;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.core.action.Sql.Mode;
import org.gantrel.core.action.Sql.ToTable;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/** Puts rows into a table, column by column: adds them, or changes those that are there by their key. */
final class TableLoad {

    private static final int BATCH = 500;

    /** Rows on their way into a table. */
    interface Rows {
        /** What their values are called. */
        List<String> names() throws SQLException;

        boolean next() throws SQLException;

        /** A value by its name; nothing is null. */
        Object value(String name) throws SQLException;
    }

    /**
     * What became of rows.
     *
     * @param left rows that the table has no row for, where only those that are there are changed
     */
    record Loaded(long rows, long inserted, long updated, long left, long gone) {
        String words(String table) {
            String kept = updated > 0 || left > 0
                    ? " (" + inserted + " new, " + updated + " changed" + (left > 0 ? ", " + left + " not there" : "")
                            + ")"
                    : "";
            return Words.count(rows, "row") + " into " + table + (gone > 0 ? " in place of " + gone : "") + kept;
        }
    }

    private final Connection target;
    private final ToTable table;
    /** The columns that are filled, each with the name of its value. */
    private final Map<String, String> columns = new LinkedHashMap<>();

    private long rows;
    private long inserted;
    private long updated;
    private long left;

    private TableLoad(Connection target, ToTable table) {
        this.target = target;
        this.table = table;
    }

    static Loaded load(Rows from, Connection target, ToTable table) throws SQLException {
        return new TableLoad(target, table).load(from);
    }

    private Loaded load(Rows from) throws SQLException {
        choose(from.names());
        int gone = clear();
        List<String> key = table.key();
        List<String> others = columns.keySet().stream()
                .filter(column -> !key.contains(column))
                .toList();
        String marks = columns.keySet().stream().map(column -> "?").collect(Collectors.joining(", "));
        String insertText = "insert into " + table.table() + " (" + String.join(", ", columns.keySet()) + ") values ("
                + marks + ")";
        // a table whose columns are all part of its key has nothing to change
        String set = (others.isEmpty() ? key : others)
                .stream().map(column -> column + " = ?").collect(Collectors.joining(", "));
        String where = key.stream().map(column -> column + " = ?").collect(Collectors.joining(" and "));
        try (PreparedStatement insert = target.prepareStatement(insertText);
                PreparedStatement update = table.mode().needsKey()
                        ? target.prepareStatement("update " + table.table() + " set " + set + " where " + where)
                        : null) {
            while (from.next()) {
                rows++;
                if (update != null && change(from, update, others.isEmpty() ? key : others)) {
                    updated++;
                } else if (table.mode() == Mode.UPDATE) {
                    left++;
                } else {
                    add(from, insert);
                }
            }
            insert.executeBatch();
        }
        return new Loaded(rows, inserted, updated, left, gone);
    }

    /** All values under their own names where no columns are chosen. */
    private void choose(List<String> names) {
        if (table.columns().isEmpty()) {
            names.forEach(name -> columns.put(name, name));
            table.key().forEach(column -> find(column, names));
            return;
        }
        table.columns().forEach((column, name) -> columns.put(column, find(name, names)));
    }

    private static String find(String name, List<String> names) {
        return names.stream()
                .filter(name::equalsIgnoreCase)
                .findFirst()
                .orElseThrow(() -> new WorkFailed("the rows have no value '" + name + "'; there are "
                        + String.join(", ", names) + Nearest.hint(name, names)));
    }

    private int clear() throws SQLException {
        if (table.mode() != Mode.REPLACE && table.mode() != Mode.SLICE) {
            return 0;
        }
        String slice = table.mode() == Mode.SLICE ? " where " + table.slice() + " = ?" : "";
        try (PreparedStatement delete = target.prepareStatement("delete from " + table.table() + slice)) {
            if (table.mode() == Mode.SLICE) {
                delete.setString(1, table.of());
            }
            return delete.executeUpdate();
        }
    }

    private void add(Rows from, PreparedStatement insert) throws SQLException {
        int place = 0;
        for (String name : columns.values()) {
            insert.setObject(++place, from.value(name));
        }
        insert.addBatch();
        // a later row may have the same key, and is to find this one
        if (++inserted % BATCH == 0 || table.mode() == Mode.MERGE) {
            insert.executeBatch();
        }
    }

    private boolean change(Rows from, PreparedStatement update, List<String> set) throws SQLException {
        int place = 0;
        for (String column : set) {
            update.setObject(++place, from.value(value(column)));
        }
        for (String column : table.key()) {
            update.setObject(++place, from.value(value(column)));
        }
        return update.executeUpdate() > 0;
    }

    private String value(String column) {
        return columns.entrySet().stream()
                .filter(each -> each.getKey().equalsIgnoreCase(column))
                .map(Map.Entry::getValue)
                .findFirst()
                .orElse(column);
    }

    /** The rows of a query. */
    static Rows of(ResultSet rows) {
        return new Rows() {
            @Override
            public List<String> names() throws SQLException {
                return SqlExecutor.names(rows.getMetaData());
            }

            @Override
            public boolean next() throws SQLException {
                return rows.next();
            }

            @Override
            public Object value(String name) throws SQLException {
                return rows.getObject(name);
            }
        };
    }
}
