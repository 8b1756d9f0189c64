package org.gantrel.service.database;

import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.sql.Array;
import java.sql.Blob;
import java.sql.Clob;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Types;

/**
 * A value in a row: as what it is, and as its database writes it.
 *
 * @param trouble why it cannot be had as what it is; null where it can
 * @param textTrouble why it cannot be had as a text
 */
record Cell(Object value, String text, SQLException trouble, SQLException textTrouble) {

    /** The most that one value, and one row, may have, in bytes. */
    static final int MOST = 32 << 20;

    /** Objects that have no form here but the text that their database gives them. */
    private static final Object ONLY_TEXT = new Object();

    /** @param type of the column, as {@link Types} has it */
    static Cell of(ResultSet rows, int column, int type) {
        if (type == Types.JAVA_OBJECT) {
            var object = new SQLException("objects of Java are not read; 'cast(... as varbinary)' gives their bytes");
            return new Cell(null, null, object, object);
        }
        Object value = null;
        SQLException trouble = null;
        try {
            value = known(rows, rows.getObject(column));
        } catch (SQLException e) {
            trouble = e;
        }
        if (value == null && trouble == null) {
            return new Cell(null, null, null, null);
        }
        if (value instanceof String text) {
            return new Cell(text, text, null, null);
        }
        try {
            String text = trouble == null || !isTooLong(trouble) ? rows.getString(column) : null;
            return new Cell(value == ONLY_TEXT ? text : value, text, trouble, text == null ? trouble : null);
        } catch (SQLException e) {
            return new Cell(value == ONLY_TEXT ? null : value, null, value == ONLY_TEXT ? e : trouble, e);
        }
    }

    private static Object known(ResultSet rows, Object value) throws SQLException {
        if (value instanceof Clob clob) {
            return clob.getSubString(1, length(clob.length()));
        }
        if (value instanceof Blob blob) {
            return blob.getBytes(1, length(blob.length()));
        }
        if (value instanceof Array array) {
            // PostgreSQL takes a text for an array, and no array whose type it is not told
            boolean asText = array.getClass().getName().startsWith("org.postgresql.");
            return asText ? ONLY_TEXT : plain(rows, array.getArray());
        }
        return plain(rows, value);
    }

    private static Object plain(ResultSet rows, Object value) throws SQLException {
        if (value instanceof Object[] all) {
            if (all.length > Values.MOST_ELEMENTS) {
                throw new SQLException(
                        "an array of " + all.length + " values is too long: at most " + Values.MOST_ELEMENTS
                                + " are read",
                        TOO_LONG);
            }
            Object[] each = new Object[all.length];
            for (int i = 0; i < all.length; i++) {
                Object one = known(rows, all[i]);
                each[i] = one == ONLY_TEXT ? String.valueOf(all[i]) : one;
            }
            return each;
        }
        return Values.isKnown(value) ? value : ONLY_TEXT;
    }

    private static int length(long length) throws SQLException {
        if (length > MOST) {
            throw tooLong("a value of " + length);
        }
        return (int) length;
    }

    private static final String TOO_LONG = "54000";

    /** What is too long to be held. SQL:2016 has no state for that; PostgreSQL's class 54 is what it means. */
    static SQLException tooLong(String what) {
        return new SQLException(
                what + " characters or bytes is too long: at most " + MOST + " are held at a time", TOO_LONG);
    }

    private static boolean isTooLong(SQLException e) {
        return TOO_LONG.equals(e.getSQLState());
    }

    void write(DataOutputStream out) throws IOException {
        if (trouble == null && textTrouble == null) {
            boolean same = value instanceof String
                    || value == null
                    || text != null && text.equals(value.toString()) && isWhole();
            out.writeByte(same ? '=' : '2');
            Values.write(out, value);
            if (!same) {
                Values.write(out, text);
            }
            return;
        }
        out.writeByte('!');
        Values.write(out, value);
        Values.write(out, text);
        writeTrouble(out, trouble);
        writeTrouble(out, textTrouble);
    }

    private boolean isWhole() {
        return value instanceof Integer || value instanceof Long;
    }

    private static void writeTrouble(DataOutputStream out, SQLException trouble) throws IOException {
        out.writeBoolean(trouble != null);
        if (trouble != null) {
            Values.writeTrouble(out, trouble);
        }
    }

    static Cell read(ByteBuffer in) throws IOException {
        byte kind = in.get();
        Object value = Values.read(in);
        if (kind == '=') {
            return new Cell(value, value == null ? null : value.toString(), null, null);
        }
        Object text = Values.read(in);
        if (text != null && !(text instanceof String)) {
            throw new IOException("a text that is none");
        }
        return kind == '2'
                ? new Cell(value, (String) text, null, null)
                : new Cell(value, (String) text, readTrouble(in), readTrouble(in));
    }

    private static SQLException readTrouble(ByteBuffer in) throws IOException {
        return in.get() != 0 ? Values.readTrouble(in) : null;
    }

    Object object() throws SQLException {
        if (trouble != null) {
            throw trouble;
        }
        return value;
    }

    String string() throws SQLException {
        if (textTrouble != null) {
            throw textTrouble;
        }
        return text;
    }
}
