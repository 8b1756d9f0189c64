package org.gantrel.core.expression;

import dev.cel.common.CelFunctionDecl;
import dev.cel.common.CelIssue;
import dev.cel.common.CelOverloadDecl;
import dev.cel.common.CelValidationException;
import dev.cel.common.types.SimpleType;
import dev.cel.compiler.CelCompiler;
import dev.cel.compiler.CelCompilerBuilder;
import dev.cel.compiler.CelCompilerFactory;
import dev.cel.runtime.CelEvaluationException;
import dev.cel.runtime.CelFunctionBinding;
import dev.cel.runtime.CelRuntime;
import dev.cel.runtime.CelRuntimeFactory;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/**
 * Expressions in the Common Expression Language (CEL) over the planned time and the values of a job's parameters, which
 * are texts here. {@code planned.date} is midnight of the planned day, {@code days(n)} a length of time.
 */
final class Expressions {

    private static final String PLANNED_DATE = "planned.date";

    private static final CelRuntime RUNTIME = CelRuntimeFactory.standardCelRuntimeBuilder()
            .addFunctionBindings(CelFunctionBinding.from("days_int", Long.class, Duration::ofDays))
            .build();

    private Expressions() {}

    static void check(String expression, Collection<String> names) {
        compile(expression, names);
    }

    static String evaluate(String expression, Map<String, String> values, PlannedTime planned) {
        var program = compile(expression, values.keySet());
        Map<String, Object> variables = new HashMap<>(values);
        variables.put(PLANNED_DATE, planned.date().atStartOfDay().toInstant(ZoneOffset.UTC));
        try {
            return text(RUNTIME.createProgram(program).eval(variables));
        } catch (CelEvaluationException e) {
            throw new ExpressionException("'${" + expression + "}' cannot be worked out: " + e.getMessage());
        }
    }

    private static dev.cel.common.CelAbstractSyntaxTree compile(String expression, Collection<String> names) {
        try {
            return compiler(names).compile(expression).getAst();
        } catch (CelValidationException e) {
            CelIssue issue = e.getErrors().get(0);
            throw new ExpressionException("'${%s}', column %d: %s; known here: %s"
                    .formatted(
                            expression,
                            issue.getSourceLocation().getColumn() + 1,
                            issue.getMessage(),
                            names.isEmpty() ? PLANNED_DATE : PLANNED_DATE + ", " + String.join(", ", names)));
        }
    }

    private static CelCompiler compiler(Collection<String> names) {
        CelCompilerBuilder builder = CelCompilerFactory.standardCelCompilerBuilder()
                .addVar(PLANNED_DATE, SimpleType.TIMESTAMP)
                .addFunctionDeclarations(CelFunctionDecl.newFunctionDeclaration(
                        "days",
                        CelOverloadDecl.newGlobalOverload("days_int", SimpleType.DURATION, List.of(SimpleType.INT))));
        names.forEach(name -> builder.addVar(name, SimpleType.STRING));
        return builder.build();
    }

    private static String text(Object value) {
        return value instanceof Instant instant
                ? instant.atOffset(ZoneOffset.UTC).toLocalDate().toString()
                : String.valueOf(value);
    }
}
