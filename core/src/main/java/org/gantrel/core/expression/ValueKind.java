package org.gantrel.core.expression;

import java.math.BigDecimal;

/** What a value is where it is handed on: a number stays a number in JSON, and a date a date for a database. */
public enum ValueKind {
    TEXT,
    NUMBER,
    DATE,
    TIME,
    DATE_TIME,
    YES_NO;

    private static final int LONGEST_WHOLE = 18;

    /** A question mark that says the type of the value which takes its place (SQL-92, 6.10). */
    String mark(String value) {
        return switch (this) {
            case TEXT -> "?";
            case NUMBER -> "cast(? as " + numeric(value) + ")";
            case DATE -> "cast(? as date)";
            case TIME -> "cast(? as time)";
            case DATE_TIME -> "cast(? as timestamp)";
            case YES_NO -> "cast(? as boolean)";
        };
    }

    private static String numeric(String value) {
        BigDecimal number = new BigDecimal(value);
        int after = Math.max(0, number.scale());
        int before = Math.max(1, number.precision() - number.scale());
        return after == 0 && before <= LONGEST_WHOLE ? "bigint" : "decimal(" + (before + after) + ", " + after + ")";
    }

    /** The value as it stands in JSON (RFC 8259), with the quotes where it is a text. */
    String inJson(String value) {
        return switch (this) {
            case NUMBER -> new BigDecimal(value).toPlainString();
            case YES_NO -> String.valueOf(value.equals("yes") || value.equals("true"));
            default -> JsonText.isStructure(value) ? value : "\"" + JsonText.escaped(value) + "\"";
        };
    }
}
