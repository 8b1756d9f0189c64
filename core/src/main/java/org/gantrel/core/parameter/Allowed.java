package org.gantrel.core.parameter;

import java.util.List;
import java.util.Optional;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.SafePattern;
import org.gantrel.core.text.Words;

/**
 * Which values of its type a parameter takes.
 *
 * @param of the listed values; empty for any
 * @param pattern what the whole value must match
 * @param least the smallest value, where values have an order
 * @param most the largest
 */
public record Allowed(List<String> of, Optional<SafePattern> pattern, Optional<String> least, Optional<String> most) {

    public static final Allowed ANY = new Allowed(List.of(), Optional.empty(), Optional.empty(), Optional.empty());

    public Allowed {
        of = List.copyOf(of);
    }

    public static Allowed of(List<String> values) {
        return new Allowed(values, Optional.empty(), Optional.empty(), Optional.empty());
    }

    /** What is wrong with a canonical value of a type, and what would be right. */
    Optional<String> complaint(ParameterType type, String value) {
        for (String item : type.items(value)) {
            if (!of.isEmpty() && !of.contains(item)) {
                return Optional.of("'" + brief(item) + "' is not one of " + Words.list(of) + Nearest.hint(item, of));
            }
            if (pattern.isPresent() && !matches(pattern.get(), item)) {
                return Optional.of("'" + brief(item) + "' does not match the pattern "
                        + pattern.get().pattern());
            }
        }
        return type.order().flatMap(order -> {
            boolean low = least.isPresent() && order.compare(value, least.get()) < 0;
            boolean high = most.isPresent() && order.compare(value, most.get()) > 0;
            return low || high ? Optional.of("'" + value + "' is not " + range()) : Optional.empty();
        });
    }

    /** A value that is too much for a pattern of old does not match it. */
    private static boolean matches(SafePattern pattern, String item) {
        try {
            return pattern.matches(item);
        } catch (SafePattern.TooMuch e) {
            return false;
        }
    }

    private String range() {
        if (least.isEmpty()) {
            return "at most " + most.orElse("");
        }
        return most.isEmpty() ? "at least " + least.get() : "from " + least.get() + " to " + most.get();
    }

    static String brief(String given) {
        return given.length() <= 60 ? given : given.substring(0, 57) + "...";
    }
}
