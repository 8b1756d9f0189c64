package org.gantrel.core.parameter;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;

/**
 * A typed input that a job declares. Without a default it must be given.
 *
 * @param name letters, digits and underscores, so that expressions can use it
 * @param fallback the default, which may hold expressions
 * @param of the allowed values of a choice
 * @param about one line of help
 */
public record Parameter(String name, ParameterType type, Optional<String> fallback, List<String> of, String about) {

    /** What names look like. */
    public static final String NAME = "[a-z][a-z0-9_]{0,39}";

    /** The longest value that is taken, in characters. */
    public static final int LONGEST_VALUE = 10_000;

    public Parameter {
        of = List.copyOf(of);
    }

    /** Whether its value is sealed and masked. */
    public boolean isSecret() {
        return type == ParameterType.SECRET;
    }

    /** What is wrong with a value, and what would be right; nothing where it is fine. */
    Optional<String> complaint(String given) {
        if (given.length() > LONGEST_VALUE) {
            return Optional.of("too long: " + given.length() + " characters, at most " + LONGEST_VALUE);
        }
        Optional<String> value = type.read(given);
        if (value.isEmpty()) {
            return Optional.of((isSecret() ? "the value" : "'" + brief(given) + "'") + " is not " + type.allowed);
        }
        if (type == ParameterType.CHOICE && !of.contains(value.get())) {
            return Optional.of("'" + brief(given) + "' is not one of " + Words.list(of) + Nearest.hint(given, of));
        }
        return Optional.empty();
    }

    private static String brief(String given) {
        return given.length() <= 60 ? given : given.substring(0, 57) + "...";
    }
}
