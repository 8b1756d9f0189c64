package org.gantrel.core.definition;

import java.math.BigDecimal;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.JsonText;
import org.gantrel.core.expression.Template;

/**
 * Writes what YAML says as a text of JSON in which expressions still stand: a value that is one expression and nothing
 * else stands outside of quotes, so that what it comes to keeps its kind.
 */
final class JsonForm {

    private JsonForm() {}

    static String of(Object value) {
        if (value instanceof Map<?, ?> map) {
            return map.entrySet().stream()
                    .map(entry ->
                            "\"" + JsonText.escaped(String.valueOf(entry.getKey())) + "\": " + of(entry.getValue()))
                    .collect(Collectors.joining(", ", "{", "}"));
        }
        if (value instanceof List<?> list) {
            return list.stream().map(JsonForm::of).collect(Collectors.joining(", ", "[", "]"));
        }
        if (value instanceof BigDecimal number) {
            return number.toPlainString();
        }
        return value instanceof String text ? text(text) : String.valueOf(value);
    }

    private static String text(String text) {
        try {
            Template template = Template.of(text);
            return template.isOneExpression() ? text : "\"" + template.quoted() + "\"";
        } catch (ExpressionException e) {
            // it is complained of where expressions are checked
            return "\"" + JsonText.escaped(text) + "\"";
        }
    }
}
