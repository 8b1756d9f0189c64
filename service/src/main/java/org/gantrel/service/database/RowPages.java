package org.gantrel.service.database;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.sql.ResultSet;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.util.List;

/** The rows of a query, some at a time. One that is large is told of before it is sent, so that there is room for it. */
final class RowPages {

    /** A page has no more once it has so many bytes. */
    private static final int ENOUGH = 128 * 1024;

    private static final int MOST_ROWS = 500;

    /** A row of more is told of first. */
    static final int LARGE = 1 << 20;

    /** No database that is known has more columns. */
    static final int MOST_COLUMNS = 20_000;

    /** More rows may follow. */
    static final char MORE = 'm';
    /** There are no more. */
    static final char LAST = 'l';
    /** There are no more that can be had; why follows the rows. */
    static final char BROKEN = 'b';
    /** No rows: how many bytes the next one has. */
    static final char ANNOUNCED = 'a';

    private final ResultSet rows;
    private final int[] types;
    private ByteArrayOutputStream large;
    private ByteArrayOutputStream waiting;
    private boolean last;

    RowPages(ResultSet rows) throws SQLException {
        this.rows = rows;
        ResultSetMetaData columns = rows.getMetaData();
        int width = columns.getColumnCount();
        if (width > MOST_COLUMNS) {
            throw new SQLException("rows of " + width + " columns are too wide: at most " + MOST_COLUMNS + " are read");
        }
        types = new int[width];
        for (int i = 0; i < types.length; i++) {
            types[i] = columns.getColumnType(i + 1);
        }
    }

    /** The next page: how it ends, how many rows it has, how many values a row has, and these. */
    List<ByteArrayOutputStream> next() throws IOException {
        if (large != null) {
            ByteArrayOutputStream row = large;
            large = null;
            return List.of(head(MORE, 1), row);
        }
        var content = new ByteArrayOutputStream();
        int count = 0;
        while (count < MOST_ROWS && content.size() < ENOUGH && !last) {
            ByteArrayOutputStream row;
            try {
                row = waiting != null ? waiting : row();
                waiting = null;
            } catch (SQLException e) {
                last = true;
                Values.writeTrouble(new DataOutputStream(content), e);
                return List.of(head(BROKEN, count), content);
            }
            if (row == null) {
                last = true;
            } else if (row.size() <= LARGE) {
                row.writeTo(content);
                count++;
            } else if (count > 0) {
                waiting = row;
                return List.of(head(MORE, count), content);
            } else {
                large = row;
                return List.of(head(ANNOUNCED, row.size()));
            }
        }
        return List.of(head(last ? LAST : MORE, count), content);
    }

    private ByteArrayOutputStream row() throws SQLException, IOException {
        if (!rows.next()) {
            return null;
        }
        var bytes = new ByteArrayOutputStream();
        var row = new DataOutputStream(bytes);
        for (int i = 0; i < types.length; i++) {
            Cell.of(rows, i + 1, types[i]).write(row);
            if (bytes.size() > Cell.MOST) {
                throw Cell.tooLong("a row of more than " + Cell.MOST);
            }
        }
        return bytes;
    }

    private ByteArrayOutputStream head(char kind, int count) throws IOException {
        var bytes = new ByteArrayOutputStream();
        var head = new DataOutputStream(bytes);
        head.writeByte(kind);
        head.writeInt(count);
        head.writeInt(types.length);
        return bytes;
    }
}
