package org.gantrel.core.run;

import java.math.BigDecimal;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.gantrel.core.text.Words;

/** Two runs side by side, fact by fact. */
public final class Comparison {

    /** What a fact is, so that a difference can be told. */
    public enum Kind {
        TEXT,
        /** An instant, in RFC 3339. */
        TIME,
        NUMBER,
        /** A length in ISO 8601. */
        DURATION,
        /** A size in bytes. */
        BYTES;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * Something that is known of a run.
     *
     * @param what its name, by which facts of two runs belong together
     * @param value as programs read it; empty where there is none
     */
    public record Fact(String what, Kind kind, String value) {}

    /**
     * A fact of two runs.
     *
     * @param by how much more the other is than the one, in words; empty where they are alike, or nothing can be reckoned
     */
    public record Beside(String what, Kind kind, String one, String other, String by) {

        public boolean isAlike() {
            return one.equals(other);
        }
    }

    private Comparison() {}

    /** The facts of both in their order; what only the other has stands where it has it. */
    public static List<Beside> of(List<Fact> one, List<Fact> other) {
        Map<String, Fact> first = byName(one);
        Map<String, Fact> second = byName(other);
        List<String> names = new ArrayList<>(first.keySet());
        int place = 0;
        for (String name : second.keySet()) {
            if (first.containsKey(name)) {
                place = names.indexOf(name) + 1;
            } else {
                names.add(place++, name);
            }
        }
        return names.stream()
                .map(name -> beside(first.get(name), second.get(name)))
                .toList();
    }

    private static Map<String, Fact> byName(List<Fact> facts) {
        var byName = new LinkedHashMap<String, Fact>();
        facts.forEach(fact -> byName.putIfAbsent(fact.what(), fact));
        return byName;
    }

    private static Beside beside(Fact one, Fact other) {
        Fact known = one == null ? other : one;
        String first = one == null ? "" : one.value();
        String second = other == null ? "" : other.value();
        boolean told = !first.equals(second) && !first.isEmpty() && !second.isEmpty();
        return new Beside(known.what(), known.kind(), first, second, told ? by(known.kind(), first, second) : "");
    }

    private static String by(Kind kind, String one, String other) {
        return switch (kind) {
            case DURATION -> {
                Duration more = Duration.parse(other).minus(Duration.parse(one));
                yield (more.isNegative() ? "-" : "+") + Words.duration(more.abs());
            }
            case BYTES -> {
                long more = Long.parseLong(other) - Long.parseLong(one);
                yield (more < 0 ? "-" : "+") + Words.bytes(Math.abs(more));
            }
            case NUMBER -> number(one, other);
            case TEXT, TIME -> "";
        };
    }

    /** A result may be a text as well, and a number too large to be reckoned with is none. */
    private static String number(String one, String other) {
        try {
            BigDecimal more = limited(other).subtract(limited(one));
            return (more.signum() > 0 ? "+" : "") + more.toPlainString();
        } catch (NumberFormatException e) {
            return "";
        }
    }

    private static BigDecimal limited(String text) {
        if (text.length() > 60) {
            throw new NumberFormatException("too long to be reckoned with");
        }
        var number = new BigDecimal(text.strip());
        if (Math.abs((long) number.scale()) > 40) {
            throw new NumberFormatException("too large or too small to be reckoned with");
        }
        return number;
    }
}
