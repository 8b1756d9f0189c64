package org.gantrel.service.web;

import java.time.Instant;
import java.util.Collection;
import java.util.Map;
import java.util.stream.Collectors;
import tools.jackson.core.JacksonException;
import tools.jackson.core.exc.InputCoercionException;
import tools.jackson.core.exc.StreamConstraintsException;
import tools.jackson.core.exc.StreamReadException;
import tools.jackson.databind.DatabindException;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.exc.MismatchedInputException;
import tools.jackson.databind.exc.UnrecognizedPropertyException;

/** Says in our words why a body is not the JSON that a call takes: those of a library speak of its own inside. */
final class Unreadable {

    private static final int LONGEST_SHOWN = 60;

    private Unreadable() {}

    static String why(Throwable thrown) {
        if (thrown instanceof UnrecognizedPropertyException unknown) {
            return "'" + brief(unknown.getPropertyName()) + "' is no field of it; known here: "
                    + unknown.getKnownPropertyIds().stream()
                            .map(String::valueOf)
                            .sorted()
                            .collect(Collectors.joining(", "));
        }
        if (thrown instanceof InvalidFormatException wrong) {
            String own = wrong.getOriginalMessage();
            String value = wrong.getValue() == null ? "" : "'" + brief(String.valueOf(wrong.getValue())) + "': ";
            boolean ours = wrong.getTargetType() == String.class || wrong.getTargetType() == Instant.class;
            return place(wrong) + value + (ours ? own : expected(wrong.getTargetType()));
        }
        if (thrown instanceof MismatchedInputException wrong) {
            return place(wrong) + expected(wrong.getTargetType());
        }
        if (thrown instanceof StreamConstraintsException) {
            return "it is nested too deeply, or a text or a number in it is too long";
        }
        if (thrown instanceof InputCoercionException wrong) {
            return "the number at line " + wrong.getLocation().getLineNr() + ", column "
                    + wrong.getLocation().getColumnNr() + " is out of its range";
        }
        if (thrown instanceof StreamReadException broken) {
            return "no JSON at line " + broken.getLocation().getLineNr() + ", column "
                    + broken.getLocation().getColumnNr();
        }
        return thrown instanceof JacksonException ? "it cannot be read" : "it is missing, or broke off";
    }

    private static String place(DatabindException wrong) {
        String path = wrong.getPath().stream()
                .map(step ->
                        step.getPropertyName() == null ? "[" + step.getIndex() + "]" : "." + step.getPropertyName())
                .collect(Collectors.joining());
        return path.isEmpty() ? "" : brief(path.replaceFirst("^\\.", "")) + ": ";
    }

    private static String expected(Class<?> type) {
        String what = "an object";
        if (type == null || type == String.class || type.isEnum()) {
            what = "a text";
        } else if (type == Boolean.class || type == boolean.class) {
            what = "true or false";
        } else if (Number.class.isAssignableFrom(type) || type.isPrimitive()) {
            what = "a whole number in its range";
        } else if (Collection.class.isAssignableFrom(type) || type.isArray()) {
            what = "a list";
        } else if (!Map.class.isAssignableFrom(type) && type.getName().startsWith("java.time.")) {
            what = "a date or time in the form of ISO 8601";
        }
        return what + " is expected";
    }

    private static String brief(String text) {
        return text.length() <= LONGEST_SHOWN ? text : text.substring(0, LONGEST_SHOWN) + "...";
    }
}
