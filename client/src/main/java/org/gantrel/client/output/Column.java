package org.gantrel.client.output;

import java.util.function.Function;
import tools.jackson.databind.JsonNode;

/**
 * A column of a table.
 *
 * @param text what a person reads in it for a row
 * @param plain what a program reads in it: the API's own value
 */
public record Column(String heading, Function<JsonNode, String> text, Function<JsonNode, String> plain) {

    /** A column that says the same to people and programs. */
    public Column(String heading, Function<JsonNode, String> text) {
        this(heading, text, text);
    }

    /** A column that holds a field as it is. */
    public static Column of(String heading, String field) {
        return new Column(heading, row -> row.path(field).asString(""));
    }

    /** A column that holds an instant: in the reader's zone for people, in UTC for programs. */
    public static Column time(String heading, String field) {
        return new Column(
                heading, row -> Times.local(row, field), row -> row.path(field).asString(""));
    }

    /** A column that holds a duration: in words for people, in ISO 8601 for programs. */
    public static Column duration(String heading, String field) {
        return new Column(heading, row -> Times.duration(row, field), row -> row.path(field)
                .asString(""));
    }
}
