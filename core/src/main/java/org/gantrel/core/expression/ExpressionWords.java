package org.gantrel.core.expression;

import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/** Says what is wrong with an expression in words; the compiler of CEL speaks of tokens, overloads and containers. */
final class ExpressionWords {

    private static final Pattern UNKNOWN = Pattern.compile("undeclared reference to '([^']*)'.*", Pattern.DOTALL);
    private static final Pattern NO_OVERLOAD =
            Pattern.compile("found no matching overload for '([^']*)' applied to '\\((.*?)\\)'.*", Pattern.DOTALL);
    private static final Pattern UNFIT = Pattern.compile(
            "(?:mismatched|extraneous) input '(.*?)' expecting .*|no viable alternative at input '(.*)'",
            Pattern.DOTALL);
    private static final Pattern MISSING = Pattern.compile("missing '?(.*?)'? at '(.*)'", Pattern.DOTALL);
    private static final Pattern NO_TOKEN = Pattern.compile("token recognition error at: '(.*)'", Pattern.DOTALL);
    private static final String END = "<EOF>";

    private static final Pattern BEGINNING = Pattern.compile("^evaluation error(?: at <input>:\\d+)?: ");
    private static final Pattern NO_KEY = Pattern.compile("key '(.*)' is not present in map\\.?", Pattern.DOTALL);
    private static final Pattern NO_NUMBER = Pattern.compile("For input string: \"(.*?)\".*", Pattern.DOTALL);
    private static final Pattern NO_INDEX = Pattern.compile("Index out of bounds: (\\d+).*");

    private static final Map<String, String> OPERATORS =
            Map.of("@in", "in", "_[_]", "[ ]", "_?_:_", "? :", "!_", "!", "-_", "-");

    private static final Map<String, String> TYPES = Map.of(
            "string", "text",
            "int", "number",
            "uint", "number",
            "double", "number",
            "bool", "yes or no",
            "google.protobuf.Timestamp", "time",
            "google.protobuf.Duration", "length of time",
            "null", "nothing",
            "null_type", "nothing",
            "bytes", "bytes");

    private ExpressionWords() {}

    /**
     * What is wrong in words; what is not known here stays as the compiler says it.
     *
     * @param message what the compiler says
     * @param expression what it says that of
     * @param column where, from 0
     * @param known the names that the expression may use
     */
    static String of(String message, String expression, int column, Collection<String> known) {
        Matcher unknown = UNKNOWN.matcher(message);
        if (unknown.matches()) {
            String name = unknown.group(1);
            // of what is called the place of its parenthesis is said
            return column < expression.length() && expression.charAt(column) == '('
                    ? "there is no function '" + name + "'"
                    : "nothing is known as '" + name + "'" + Nearest.hint(name, List.copyOf(known));
        }
        Matcher overload = NO_OVERLOAD.matcher(message);
        if (overload.matches()) {
            return overload(overload.group(1), overload.group(2));
        }
        Matcher unfit = UNFIT.matcher(message);
        if (unfit.matches()) {
            String input = unfit.group(1) == null ? unfit.group(2) : unfit.group(1);
            return input.endsWith(END) ? "it ends too early" : "'" + input + "' does not fit here";
        }
        Matcher missing = MISSING.matcher(message);
        if (missing.matches()) {
            String where = missing.group(2).equals(END) ? "at the end" : "before '" + missing.group(2) + "'";
            return "'" + missing.group(1) + "' is missing " + where;
        }
        Matcher none = NO_TOKEN.matcher(message);
        if (none.matches()) {
            String begins = none.group(1).substring(0, Math.min(1, none.group(1).length()));
            return "'" + none.group(1) + "' means nothing here"
                    + (begins.equals("\"") || begins.equals("'")
                            ? "; a text ends with the quote that it begins with"
                            : "");
        }
        return message;
    }

    /** Why an expression that is right has no value with these values. @param message what the interpreter says */
    static String ofValues(String message) {
        String plain = BEGINNING.matcher(message).replaceFirst("");
        Matcher key = NO_KEY.matcher(plain);
        if (key.matches()) {
            return "there is no '" + key.group(1) + "' here";
        }
        Matcher number = NO_NUMBER.matcher(plain);
        if (number.matches()) {
            return "'" + number.group(1) + "' is no number";
        }
        Matcher index = NO_INDEX.matcher(plain);
        if (index.matches()) {
            return "the list has no item " + index.group(1);
        }
        return plain.matches(".*(by zero|by 0).*") ? "it divides by zero" : plain;
    }

    private static String overload(String function, String types) {
        List<String> all = Arrays.stream(types.split(", "))
                .filter(type -> !type.isBlank())
                .map(ExpressionWords::type)
                .toList();
        boolean operator = function.contains("_") && !function.matches("\\w*[a-zA-Z]\\w*") || function.startsWith("@");
        String sign = OPERATORS.getOrDefault(function, function.replace("_", ""));
        String with = all.isEmpty() ? "nothing" : Words.list(all);
        boolean mixed = operator && all.contains("text") && all.contains("number");
        return (operator ? "'" + sign + "' does not go with " : "'" + function + "' does not take ")
                + with
                + (mixed ? "; int(...) makes a whole number of a text, and double(...) one with decimals" : "");
    }

    private static String type(String type) {
        if (type.startsWith("list")) {
            return "list";
        }
        return type.startsWith("map") ? "fields" : TYPES.getOrDefault(type, type);
    }
}
