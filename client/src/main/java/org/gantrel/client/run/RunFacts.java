package org.gantrel.client.run;

import java.math.BigDecimal;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.gantrel.core.text.Words;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/** What is to be compared of a run: its facts by name, as programs read them, in the order in which people ask for them. */
final class RunFacts {

    /** What a fact is, so that a difference can be told. */
    enum Kind {
        TEXT,
        TIME,
        NUMBER,
        DURATION
    }

    private record Fact(Kind kind, String value) {}

    private final Map<String, Fact> facts = new LinkedHashMap<>();

    /**
     * @param run as the API shows it
     * @param why as the API tells why it is and was as it is
     */
    RunFacts(JsonNode run, JsonNode why) {
        for (String name : List.of("job", "revision", "state", "message", "starter", "actsAs", "exitCode", "attempt")) {
            put(name.replaceAll("([A-Z])", " $1").toLowerCase(Locale.ROOT), Kind.TEXT, run.path(name));
        }
        put("planned", Kind.TIME, run.path("plannedAt"));
        put("started", Kind.TIME, run.path("startedAt"));
        var waited = new LinkedHashMap<String, Duration>();
        why.path("waits").forEach(wait -> duration(wait.path("took"))
                .forEach(took -> waited.merge(wait.path("kind").asString(), took, Duration::plus)));
        waited.forEach((kind, took) -> put("waited, " + kind, took));
        put("took", Kind.DURATION, run.path("took"));
        run.path("parameters").forEachEntry((name, value) -> put("value " + name, Kind.TEXT, value));
        run.path("results").forEachEntry((name, value) -> put("gave " + name, Kind.NUMBER, value));
        run.path("steps").forEach(this::step);
    }

    private void step(JsonNode step) {
        String name = "step " + step.path("step").asString();
        put(name, Kind.TEXT, step.path("state"));
        if (step.has("from") && step.has("until")) {
            put(
                    name + " took",
                    Duration.between(
                            Instant.parse(step.path("from").asString()),
                            Instant.parse(step.path("until").asString())));
        }
    }

    private static List<Duration> duration(JsonNode text) {
        return text.asString("").isEmpty() ? List.of() : List.of(Duration.parse(text.asString()));
    }

    private void put(String name, Duration value) {
        facts.put(name, new Fact(Kind.DURATION, value.toString()));
    }

    private void put(String name, Kind kind, JsonNode value) {
        facts.put(name, new Fact(kind, value.asString("")));
    }

    /**
     * Two runs side by side: an object a fact, with {@code what}, {@code one}, {@code other}, {@code kind} and, of what can be
     * reckoned with, {@code by}: how much more it is of the other.
     *
     * @param alike whether facts that are the same are listed too
     */
    static List<JsonNode> beside(RunFacts one, RunFacts other, boolean alike) {
        var names = new LinkedHashSet<>(one.facts.keySet());
        names.addAll(other.facts.keySet());
        var rows = new ArrayList<JsonNode>();
        for (String name : names) {
            Fact known = one.facts.containsKey(name) ? one.facts.get(name) : other.facts.get(name);
            Fact none = new Fact(known.kind(), "");
            Fact first = one.facts.getOrDefault(name, none);
            Fact second = other.facts.getOrDefault(name, none);
            boolean same = first.value().equals(second.value());
            if (!same || alike && !first.value().isEmpty()) {
                ObjectNode row = JsonNodeFactory.instance.objectNode();
                row.put("what", name);
                row.put("kind", known.kind().name().toLowerCase(Locale.ROOT));
                row.put("one", first.value());
                row.put("other", second.value());
                row.put("by", same || first.value().isEmpty() || second.value().isEmpty() ? "" : by(first, second));
                rows.add(row);
            }
        }
        return rows;
    }

    private static String by(Fact one, Fact other) {
        if (one.kind() == Kind.DURATION) {
            Duration more = Duration.parse(other.value()).minus(Duration.parse(one.value()));
            return (more.isNegative() ? "-" : "+") + Words.duration(more.abs());
        }
        if (one.kind() != Kind.NUMBER) {
            return "";
        }
        try {
            BigDecimal more = new BigDecimal(other.value()).subtract(new BigDecimal(one.value()));
            return (more.signum() > 0 ? "+" : "") + more.toPlainString();
        } catch (NumberFormatException e) {
            // a result may be a text as well
            return "";
        }
    }
}
