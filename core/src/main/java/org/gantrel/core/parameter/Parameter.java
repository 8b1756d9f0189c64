package org.gantrel.core.parameter;

import java.util.Optional;

/**
 * A typed input that a job declares. Without a default it must be given.
 *
 * @param name letters, digits and underscores, so that expressions can use it
 * @param fallback the default, which may hold expressions
 * @param allowed which values of the type it takes
 * @param about one line of help
 * @param ask whether a start by hand must give it, even where it has a default
 */
public record Parameter(
        String name, ParameterType type, Optional<String> fallback, Allowed allowed, String about, boolean ask) {

    /** A parameter without conditions. */
    public static Parameter of(String name, ParameterType type) {
        return new Parameter(name, type, Optional.empty(), Allowed.ANY, "", false);
    }

    /** What names look like. */
    public static final String NAME = "[a-z][a-z0-9_]{0,39}";

    /** The longest value that is taken, in characters. */
    public static final int LONGEST_VALUE = 10_000;

    /** Whether its value is sealed and masked. */
    public boolean isSecret() {
        return type == ParameterType.SECRET;
    }

    /** A fine value in its canonical form; one that may be left out stays empty. */
    String canonical(String given) {
        return type.read(given).orElse("");
    }

    /** What matching a value takes at most: characters times instructions of its pattern. */
    long work(String given) {
        return allowed.pattern()
                .map(pattern -> (long) Math.min(given.length(), LONGEST_VALUE) * pattern.size())
                .orElse(0L);
    }

    /** What is wrong with a value, and what would be right; nothing where it is fine. */
    Optional<String> complaint(String given) {
        if (given.length() > LONGEST_VALUE) {
            return Optional.of("too long: " + given.length() + " characters, at most " + LONGEST_VALUE);
        }
        if (given.isEmpty() && fallback.filter(String::isEmpty).isPresent()) {
            return Optional.empty();
        }
        Optional<String> value = type.read(given);
        if (value.isEmpty()) {
            return Optional.of(
                    (isSecret() ? "the value" : "'" + Allowed.brief(given) + "'") + " is not " + type.allowed);
        }
        return allowed.complaint(type, value.get());
    }
}
