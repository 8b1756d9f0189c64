package org.gantrel.core.expression;

import dev.cel.common.CelAbstractSyntaxTree;
import dev.cel.common.CelIssue;
import dev.cel.common.CelOptions;
import dev.cel.common.CelValidationException;
import dev.cel.common.types.CelType;
import dev.cel.common.types.SimpleType;
import dev.cel.compiler.CelCompiler;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelRuntime;
import dev.cel.runtime.CelRuntimeFactory;
import dev.cel.runtime.CelStandardFunctions;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Nesting;

/**
 * Expressions in the Common Expression Language (CEL) over the planned time and the values of a job's parameters, which
 * are texts here. {@code planned.date} is midnight of the planned day, {@code planned.local} the planned time by the
 * local clock, {@code planned.at} the instant as RFC 3339 writes it.
 */
final class Expressions {

    /** A sweep works out the same few expressions for each of its rows. */
    private static final int MOST_KEPT = 1_000;

    private static final String DATE = "planned.date";
    private static final String LOCAL = "planned.local";
    private static final String AT = "planned.at";

    /**
     * The longest expression, in characters. With that its steps are bounded by its length: it has no loops, since none of
     * CEL's macros is there. What a step may do, {@link Work} bounds.
     */
    private static final int LONGEST = 2_000;

    private static final CelOptions OPTIONS = CelOptions.current()
            .maxExpressionCodePointSize(LONGEST)
            .maxParseRecursionDepth(128)
            .maxRegexProgramSize(1_000)
            .enableHeterogeneousNumericComparisons(true)
            .build();

    private static final CelRuntime RUNTIME = CelRuntimeFactory.standardCelRuntimeBuilder()
            .setOptions(OPTIONS)
            .setStandardEnvironmentEnabled(false)
            .setStandardFunctions(CelStandardFunctions.newBuilder()
                    .filterFunctions((function, overload) -> !TextFunctions.OWN.contains(overload))
                    .build())
            .addFunctionBindings(DateFunctions.bindings())
            .addFunctionBindings(TextFunctions.bindings())
            .build();

    private record Written(String expression, Set<String> names, Map<String, CelType> steps) {}

    private static final Map<Written, CelRuntime.Program> PROGRAMS = new ConcurrentHashMap<>();

    private static final Pattern DOTTED = Pattern.compile("\\w+(\\.\\w+)+");

    private Expressions() {}

    static void check(String expression, Collection<String> names, StepFacts.Shapes steps) {
        program(expression, names, StepFacts.types(expression, steps));
    }

    /** Checks a condition: an expression that is so or not. */
    static void checkCondition(String expression, Collection<String> names, StepFacts.Shapes steps) {
        var written = new Written(expression, Set.copyOf(names), StepFacts.types(expression, steps));
        CelType type = compiled(written).getResultType();
        if (!type.equals(SimpleType.BOOL) && !type.equals(SimpleType.DYN)) {
            throw new ExpressionException(
                    "'" + expression + "' is no condition, which is so or not, such as settle.values.total > 0");
        }
    }

    /** Whether a condition holds. */
    static boolean holds(String expression, Map<String, String> values, PlannedTime planned, StepFacts steps) {
        Object value = value(expression, values, planned, steps);
        if (value instanceof Boolean holds) {
            return holds;
        }
        throw new ExpressionException(
                "the condition '" + expression + "' gives '" + text(value) + "', not true or false");
    }

    static Template.Meaning meaning(
            String expression, Map<String, String> values, PlannedTime planned, StepFacts steps) {
        Object value = value(expression, values, planned, steps);
        return new Template.Meaning(text(value), kind(value));
    }

    private static Object value(String expression, Map<String, String> values, PlannedTime planned, StepFacts steps) {
        CelRuntime.Program program =
                program(expression, values.keySet(), StepFacts.types(expression, alias -> steps.of(alias)
                        .map(StepFacts.Fact::shape)));
        Map<String, Object> variables = new HashMap<>(values);
        variables.putAll(StepFacts.variables(expression, steps));
        variables.put(DATE, planned.date().atStartOfDay().toInstant(ZoneOffset.UTC));
        variables.put(LOCAL, planned.local().toInstant(ZoneOffset.UTC));
        variables.put(AT, planned.at().toString());
        return Work.within(() -> evaluated(program, expression, variables, planned));
    }

    private static Object evaluated(
            CelRuntime.Program program, String expression, Map<String, Object> variables, PlannedTime planned) {
        try {
            return program.eval(variables, DateFunctions.working(planned.calendars()));
        } catch (CelEvaluationException e) {
            String why = e.getCause() instanceof ExpressionException known
                    ? known.getMessage()
                    : ExpressionWords.ofValues(String.valueOf(e.getMessage()));
            throw new ExpressionException("'${" + expression + "}' cannot be worked out: " + why);
        }
    }

    private static CelRuntime.Program program(String expression, Collection<String> names, Map<String, CelType> steps) {
        if (PROGRAMS.size() > MOST_KEPT) {
            PROGRAMS.clear();
        }
        return PROGRAMS.computeIfAbsent(new Written(expression, Set.copyOf(names), steps), Expressions::compile);
    }

    private static CelRuntime.Program compile(Written written) {
        try {
            return RUNTIME.createProgram(compiled(written));
        } catch (CelEvaluationException e) {
            throw new ExpressionException("'${" + written.expression() + "}': " + e.getMessage());
        }
    }

    private static CelAbstractSyntaxTree compiled(Written written) {
        bound(written.expression());
        try {
            return compiler(written.names(), written.steps())
                    .compile(written.expression())
                    .getAst();
        } catch (CelValidationException e) {
            CelIssue issue = e.getErrors().get(0);
            var known = new ArrayList<>(List.of(DATE, LOCAL, AT));
            written.names().stream().sorted().forEach(known::add);
            known.addAll(written.steps().keySet());
            throw new ExpressionException("'${%s}', column %d: %s; known here: %s"
                    .formatted(
                            written.expression(),
                            issue.getSourceLocation().getColumn() + 1,
                            reason(issue, written, known),
                            String.join(", ", known)));
        }
    }

    /** What is wrong; CEL takes a fact that it does not know for a field of something unknown. */
    private static String reason(CelIssue issue, Written written, List<String> known) {
        int at = Math.max(0, issue.getSourceLocation().getColumn());
        Matcher dotted = DOTTED.matcher(written.expression());
        boolean fact = issue.getMessage().startsWith("undeclared reference")
                && !written.steps().isEmpty()
                && dotted.find(Math.min(at, written.expression().length()))
                && dotted.start() == at;
        return fact
                ? "nothing is known as '" + dotted.group() + "'" + Nearest.hint(dotted.group(), known)
                : ExpressionWords.of(issue.getMessage(), written.expression(), at, known);
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

    private static CelCompiler compiler(Collection<String> names, Map<String, CelType> steps) {
        CelCompilerBuilder builder = CelCompilerFactory.standardCelCompilerBuilder()
                .setOptions(OPTIONS)
                .addVar(DATE, SimpleType.TIMESTAMP)
                .addVar(LOCAL, SimpleType.TIMESTAMP)
                .addVar(AT, SimpleType.STRING)
                .addFunctionDeclarations(DateFunctions.declarations());
        names.forEach(name -> builder.addVar(name, SimpleType.STRING));
        steps.forEach(builder::addVar);
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
