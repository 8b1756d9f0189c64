package org.gantrel.service.database;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.sql.ResultSetMetaData;
import java.sql.SQLException;
import java.sql.SQLFeatureNotSupportedException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;

/** The rows of a query in another process, which come some at a time. */
final class FarRows extends Far {

    private static final int MOST_OF_A_PAGE = 4 * RowPages.LARGE;

    private final LargeRows room;
    private final Deque<Cell[]> waiting = new ArrayDeque<>();
    private final Map<String, Integer> places = new HashMap<>();
    private Cell[] row;
    private boolean last;
    private SQLException broken;
    private int held;

    FarRows(Link link, Values.Ref ref, LargeRows room) {
        super(link, ref);
        this.room = room;
    }

    @Override
    Object call(String what, Object[] given) throws SQLException {
        return switch (what) {
            case "next()" -> next();
            case "getObject(int)" -> cell((Integer) given[0]).object();
            case "getObject(java.lang.String)" -> cell(place((String) given[0])).object();
            case "getString(int)" -> cell((Integer) given[0]).string();
            case "getString(java.lang.String)" -> cell(place((String) given[0])).string();
            case "findColumn(java.lang.String)" -> place((String) given[0]);
            case "getMetaData()", "isClosed()" -> super.call(what, given);
            case "close()" -> {
                letGo();
                link().forget(this);
                yield super.call(what, given);
            }
            default -> throw new SQLFeatureNotSupportedException("rows are read from the first to the last");
        };
    }

    private boolean next() throws SQLException {
        row = null;
        while (waiting.isEmpty() && !last) {
            letGo();
            page();
        }
        if (waiting.isEmpty() && broken != null) {
            throw broken;
        }
        row = waiting.poll();
        return row != null;
    }

    private void page() throws SQLException {
        ByteBuffer page = link().rows(MOST_OF_A_PAGE, id());
        try {
            char kind = (char) page.get();
            int count = page.getInt();
            int width = page.getInt();
            if (kind == RowPages.ANNOUNCED) {
                hold(room.take(count));
                page = link().rows(count + RowPages.LARGE, id());
                page.get();
                count = page.getInt();
                width = page.getInt();
            }
            for (int i = 0; i < count; i++) {
                var cells = new Cell[width(width, page)];
                for (int j = 0; j < width; j++) {
                    cells[j] = Cell.read(page);
                }
                waiting.add(cells);
            }
            last = kind == RowPages.LAST || kind == RowPages.BROKEN;
            broken = kind == RowPages.BROKEN ? Values.readTrouble(page) : null;
        } catch (IOException | RuntimeException e) {
            throw link().broken(e);
        }
    }

    /** Each value has a letter at least. */
    private static int width(int width, ByteBuffer page) throws IOException {
        if (width < 0 || width > page.remaining() || width > RowPages.MOST_COLUMNS) {
            throw new IOException("a row of " + width + " values");
        }
        return width;
    }

    private Cell cell(int column) throws SQLException {
        if (row == null) {
            throw new SQLException("there is no row");
        }
        if (column < 1 || column > row.length) {
            throw new SQLException("there is no column " + column + " of " + row.length);
        }
        return row[column - 1];
    }

    private int place(String name) throws SQLException {
        String known = name.toLowerCase(Locale.ROOT);
        if (places.isEmpty()) {
            var columns = (ResultSetMetaData) super.call("getMetaData()", new Object[0]);
            for (int i = columns.getColumnCount(); i > 0; i--) {
                // the first of several with the same name is the one that is meant (JDBC 4.3, 15.2.3)
                places.put(columns.getColumnLabel(i).toLowerCase(Locale.ROOT), i);
            }
        }
        Integer place = places.get(known);
        return place == null ? (Integer) ask("findColumn(java.lang.String)", name) : place;
    }

    private synchronized void hold(int bytes) {
        held = bytes;
    }

    /** What a large row took is free again. */
    synchronized void letGo() {
        room.give(held);
        held = 0;
    }
}
