package org.gantrel.core.expression;

import dev.cel.common.types.CelType;
import dev.cel.common.types.MapType;
import dev.cel.common.types.SimpleType;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What expressions can say of the steps of a chain that came before: {@code settle.state}, {@code settle.values.total}. */
public interface StepFacts {

    /** For everything but the steps of chains. */
    StepFacts NONE = alias -> Optional.empty();

    /** What is known of a step; nothing where there is no such step, or where it has not ended. */
    Optional<Fact> of(String alias);

    /**
     * What is known of a step that has ended or can no longer begin.
     *
     * @param state the word for how it ended; {@code out-of-reach} where it did not run
     * @param run the number of its run
     * @param values the results that it gave, as texts
     * @param kinds what those results are that were declared
     */
    record Fact(
            String state,
            Optional<Long> run,
            Optional<Integer> exitCode,
            Optional<Instant> started,
            Optional<Instant> ended,
            Map<String, String> values,
            Map<String, ValueKind> kinds,
            Details details) {
        public Fact {
            values = Map.copyOf(values);
            kinds = Map.copyOf(kinds);
        }

        /** One that has no details of its own. */
        public Fact(
                String state,
                Optional<Long> run,
                Optional<Integer> exitCode,
                Optional<Instant> started,
                Optional<Instant> ended,
                Map<String, String> values,
                Map<String, ValueKind> kinds) {
            this(state, run, exitCode, started, ended, values, kinds, Details.NONE);
        }

        /** What is known of its kind. */
        Shape shape() {
            return new Shape(Optional.empty(), details.kinds());
        }

        /** One of which nothing is known but how it ended. */
        public static Fact of(String state) {
            return new Fact(
                    state, Optional.empty(), Optional.empty(), Optional.empty(), Optional.empty(), Map.of(), Map.of());
        }
    }

    /**
     * What an event says beside, by name: {@code event.path}.
     *
     * @param kinds what the details are, those included that this one does not have
     */
    record Details(Map<String, String> texts, Map<String, ValueKind> kinds) {
        public static final Details NONE = new Details(Map.of(), Map.of());

        public Details {
            texts = Map.copyOf(texts);
            kinds = Map.copyOf(kinds);
        }

        /** What a detail stands for in an expression; what is not there is empty or nought. */
        private Object value(String name) {
            String text = texts.getOrDefault(name, "");
            return switch (kinds.get(name)) {
                case NUMBER ->
                    text.matches("-?\\d{1,18}")
                            ? (Object) Long.valueOf(text)
                            : NUMBER.matcher(text).matches() ? Double.valueOf(text) : 0L;
                case YES_NO -> text.equals("true") || text.equals("yes");
                default -> text;
            };
        }
    }

    /**
     * What will be known of a step, for checks.
     *
     * @param values the results that its job declares; nothing where it declares none and may give any
     * @param details what an event says beside
     */
    record Shape(Optional<Map<String, ValueKind>> values, Map<String, ValueKind> details) {
        public static final Shape ANY = new Shape(Optional.empty());

        public Shape {
            details = Map.copyOf(details);
        }

        public Shape(Optional<Map<String, ValueKind>> values) {
            this(values, Map.of());
        }
    }

    /** What will be known of the steps before. */
    interface Shapes {
        Shapes NONE = alias -> Optional.empty();

        Optional<Shape> of(String alias);
    }

    /** The text of one fact that is named and nothing else; nothing where it is none, or is not known. */
    default Optional<String> text(String expression) {
        int dot = expression.indexOf('.');
        if (dot < 0) {
            return Optional.empty();
        }
        String rest = expression.substring(dot + 1);
        Optional<Fact> about = of(expression.substring(0, dot));
        if (about.filter(fact -> fact.details().kinds().containsKey(rest)).isPresent()) {
            return Optional.of(about.get().details().texts().getOrDefault(rest, ""));
        }
        return about.flatMap(fact -> switch (rest) {
            case "state" -> Optional.of(fact.state());
            case "run" -> fact.run().map(String::valueOf);
            case "exit_code" -> fact.exitCode().map(String::valueOf);
            case "started" -> fact.started().map(Instant::toString);
            case "ended" -> fact.ended().map(Instant::toString);
            default ->
                rest.startsWith("values.")
                        ? Optional.ofNullable(fact.values().get(rest.substring("values.".length())))
                        : Optional.empty();
        });
    }

    /** Names that a dot follows, in an expression. */
    Pattern BEFORE_DOT = Pattern.compile("(?<![\\w.])([a-z_]\\w*)\\s*\\.");

    /** The names in an expression that could be those of steps. */
    static List<String> aliases(String expression) {
        var found = new ArrayList<String>();
        Matcher matcher = BEFORE_DOT.matcher(expression);
        while (matcher.find()) {
            if (!found.contains(matcher.group(1))) {
                found.add(matcher.group(1));
            }
        }
        return found;
    }

    /** The variables that an expression may use, each with its type, in order of their names. */
    static Map<String, CelType> types(String expression, Shapes shapes) {
        Map<String, CelType> types = new TreeMap<>();
        for (String alias : aliases(expression)) {
            shapes.of(alias).ifPresent(shape -> {
                types.put(alias + ".state", SimpleType.STRING);
                types.put(alias + ".run", SimpleType.DYN);
                types.put(alias + ".exit_code", SimpleType.DYN);
                types.put(alias + ".started", SimpleType.TIMESTAMP);
                types.put(alias + ".ended", SimpleType.TIMESTAMP);
                shape.details().forEach((name, kind) -> types.put(alias + "." + name, type(kind)));
                shape.values()
                        .ifPresentOrElse(
                                values -> values.forEach(
                                        (name, kind) -> types.put(alias + ".values." + name, type(kind))),
                                () -> types.put(alias + ".values", MapType.create(SimpleType.STRING, SimpleType.DYN)));
            });
        }
        return types;
    }

    /** Numbers compare with whole and broken ones alike, which CEL's types do not. */
    private static CelType type(ValueKind kind) {
        return switch (kind) {
            case NUMBER -> SimpleType.DYN;
            case YES_NO -> SimpleType.BOOL;
            default -> SimpleType.STRING;
        };
    }

    /** What the variables of an expression stand for; those that are not known are left out. */
    static Map<String, Object> variables(String expression, StepFacts facts) {
        Map<String, Object> variables = new LinkedHashMap<>();
        for (String alias : aliases(expression)) {
            facts.of(alias).ifPresent(fact -> {
                variables.put(alias + ".state", fact.state());
                fact.run().ifPresent(run -> variables.put(alias + ".run", run));
                fact.exitCode().ifPresent(code -> variables.put(alias + ".exit_code", (long) code));
                fact.started().ifPresent(at -> variables.put(alias + ".started", at));
                fact.ended().ifPresent(at -> variables.put(alias + ".ended", at));
                Map<String, Object> values = new LinkedHashMap<>();
                fact.values()
                        .forEach((name, text) -> values.put(
                                name,
                                value(text, Optional.ofNullable(fact.kinds().get(name)))));
                variables.put(alias + ".values", values);
                fact.details()
                        .kinds()
                        .keySet()
                        .forEach(name ->
                                variables.put(alias + "." + name, fact.details().value(name)));
            });
        }
        return variables;
    }

    /** A number as JSON writes it (RFC 8259, 6). */
    Pattern NUMBER = Pattern.compile("-?(0|[1-9]\\d{0,14})(\\.\\d{1,15})?([eE][-+]?\\d{1,2})?");

    private static Object value(String text, Optional<ValueKind> declared) {
        boolean number = declared.map(kind -> kind == ValueKind.NUMBER)
                .orElse(NUMBER.matcher(text).matches());
        if (number) {
            try {
                return Double.valueOf(text);
            } catch (NumberFormatException e) {
                return text;
            }
        }
        boolean yesNo =
                declared.map(kind -> kind == ValueKind.YES_NO).orElse(text.equals("true") || text.equals("false"));
        return yesNo ? (Object) (text.equals("true") || text.equals("yes")) : text;
    }
}
