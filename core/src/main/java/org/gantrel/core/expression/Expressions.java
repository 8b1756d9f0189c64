package org.gantrel.core.expression;

import dev.cel.common.CelIssue;
import dev.cel.common.CelOptions;
import dev.cel.common.CelValidationException;
import dev.cel.common.types.SimpleType;
import dev.cel.compiler.CelCompiler;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelFunctionBinding;
import dev.cel.runtime.CelRuntime;
import dev.cel.runtime.CelRuntimeFactory;
import dev.cel.runtime.CelStandardFunctions;
import dev.cel.runtime.standard.AddOperator;
import dev.cel.runtime.standard.CelStandardOverload;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.Collection;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import org.gantrel.core.text.Nesting;

/**
 * Expressions in the Common Expression Language (CEL) over the planned time and the values of a job's parameters, which
 * are texts here. {@code planned.date} is midnight of the planned day, {@code planned.local} the planned time by the
 * local clock, {@code planned.at} the instant as RFC 3339 writes it.
 */
final class Expressions {

    /** What is done by our own, which looks how long the text becomes. */
    private static final Set<CelStandardOverload> GROWING = Set.of(AddOperator.AddOverload.ADD_STRING);

    /** A sweep works out the same few expressions for each of its rows. */
    private static final int MOST_KEPT = 1_000;

    private static final String DATE = "planned.date";
    private static final String LOCAL = "planned.local";
    private static final String AT = "planned.at";

    /** The longest expression, in characters. */
    private static final int LONGEST = 2_000;
    /**
     * What an expression may build up. With that its steps are bounded by its length: it has no loops, since none of CEL's
     * macros is there.
     */
    private static final int LARGEST_TEXT = 100_000;

    private static final CelOptions OPTIONS = CelOptions.current()
            .maxExpressionCodePointSize(LONGEST)
            .maxParseRecursionDepth(128)
            .maxRegexProgramSize(1_000)
            .build();

    private static final CelRuntime RUNTIME = CelRuntimeFactory.standardCelRuntimeBuilder()
            .setOptions(OPTIONS)
            .setStandardEnvironmentEnabled(false)
            .setStandardFunctions(CelStandardFunctions.newBuilder()
                    .filterFunctions((function, overload) -> !GROWING.contains(overload))
                    .build())
            .addFunctionBindings(DateFunctions.bindings())
            .addFunctionBindings(CelFunctionBinding.from("add_string", String.class, String.class, Expressions::joined))
            .build();

    private record Written(String expression, Set<String> names) {}

    private static final Map<Written, CelRuntime.Program> PROGRAMS = new ConcurrentHashMap<>();

    private Expressions() {}

    static void check(String expression, Collection<String> names) {
        program(expression, names);
    }

    private static Object joined(String first, String second) {
        if (first.length() + second.length() > LARGEST_TEXT) {
            throw new ExpressionException("the text grows beyond " + LARGEST_TEXT + " characters");
        }
        return first + second;
    }

    static String evaluate(String expression, Map<String, String> values, PlannedTime planned) {
        return meaning(expression, values, planned).text();
    }

    static Template.Meaning meaning(String expression, Map<String, String> values, PlannedTime planned) {
        CelRuntime.Program program = program(expression, values.keySet());
        Map<String, Object> variables = new HashMap<>(values);
        variables.put(DATE, planned.date().atStartOfDay().toInstant(ZoneOffset.UTC));
        variables.put(LOCAL, planned.local().toInstant(ZoneOffset.UTC));
        variables.put(AT, planned.at().toString());
        try {
            Object value = program.eval(variables, DateFunctions.working(planned.calendars()));
            return new Template.Meaning(text(value), kind(value));
        } catch (CelEvaluationException e) {
            String why = e.getCause() instanceof ExpressionException known ? known.getMessage() : e.getMessage();
            throw new ExpressionException("'${" + expression + "}' cannot be worked out: " + why);
        }
    }

    private static CelRuntime.Program program(String expression, Collection<String> names) {
        if (PROGRAMS.size() > MOST_KEPT) {
            PROGRAMS.clear();
        }
        return PROGRAMS.computeIfAbsent(new Written(expression, Set.copyOf(names)), Expressions::compile);
    }

    private static CelRuntime.Program compile(Written written) {
        bound(written.expression());
        try {
            return RUNTIME.createProgram(
                    compiler(written.names()).compile(written.expression()).getAst());
        } catch (CelValidationException e) {
            CelIssue issue = e.getErrors().get(0);
            String known = DATE + ", " + LOCAL + ", " + AT;
            throw new ExpressionException("'${%s}', column %d: %s; known here: %s"
                    .formatted(
                            written.expression(),
                            issue.getSourceLocation().getColumn() + 1,
                            issue.getMessage(),
                            written.names().isEmpty()
                                    ? known
                                    : known + ", "
                                            + String.join(
                                                    ", ",
                                                    written.names().stream()
                                                            .sorted()
                                                            .toList())));
        } catch (CelEvaluationException e) {
            throw new ExpressionException("'${" + written.expression() + "}': " + e.getMessage());
        }
    }

    private static void bound(String expression) {
        if (expression.length() > LONGEST) {
            throw new ExpressionException("an expression may have " + LONGEST + " characters, and '"
                    + expression.substring(0, 40) + "...' has " + expression.length());
        }
        try {
            Nesting.check(expression);
        } catch (IllegalArgumentException e) {
            throw new ExpressionException("'${" + expression + "}': " + e.getMessage());
        }
    }

    private static CelCompiler compiler(Collection<String> names) {
        CelCompilerBuilder builder = CelCompilerFactory.standardCelCompilerBuilder()
                .setOptions(OPTIONS)
                .addVar(DATE, SimpleType.TIMESTAMP)
                .addVar(LOCAL, SimpleType.TIMESTAMP)
                .addVar(AT, SimpleType.STRING)
                .addFunctionDeclarations(DateFunctions.declarations());
        names.forEach(name -> builder.addVar(name, SimpleType.STRING));
        return builder.build();
    }

    private static ValueKind kind(Object value) {
        if (value instanceof Instant instant) {
            boolean midnight = LocalDateTime.ofInstant(instant, ZoneOffset.UTC)
                    .toLocalTime()
                    .equals(LocalTime.MIDNIGHT);
            return midnight ? ValueKind.DATE : ValueKind.DATE_TIME;
        }
        boolean whole = value instanceof Long || value instanceof Double number && Double.isFinite(number);
        return whole ? ValueKind.NUMBER : value instanceof Boolean ? ValueKind.YES_NO : ValueKind.TEXT;
    }

    /** A date where it is midnight, a date and time otherwise: what a parameter of that type reads. */
    private static String text(Object value) {
        if (!(value instanceof Instant instant)) {
            return String.valueOf(value);
        }
        LocalDateTime local = LocalDateTime.ofInstant(instant, ZoneOffset.UTC);
        return local.toLocalTime().equals(LocalTime.MIDNIGHT)
                ? local.toLocalDate().toString()
                : local.toString();
    }
}
