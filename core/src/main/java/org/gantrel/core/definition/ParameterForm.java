package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.parameter.Allowed;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.ParameterType;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.SafePattern;
import org.gantrel.core.yaml.Section;

/** Reads the parameters that a job declares. */
final class ParameterForm {

    private ParameterForm() {}

    static Parameters read(Section section) {
        var all = new ArrayList<Parameter>();
        section.section("parameters").ifPresent(parameters -> {
            for (String name : parameters.keys()) {
                if (!name.matches(Parameter.NAME)) {
                    parameters.complain(
                            name, "is no name for a parameter: lower-case letters, digits and underscores, at most 40");
                }
                List<String> before = all.stream().map(Parameter::name).toList();
                parameters.section(name).ifPresent(form -> parameter(name, form, before)
                        .ifPresent(all::add));
            }
        });
        return new Parameters(all);
    }

    private static Optional<Parameter> parameter(String name, Section form, List<String> before) {
        form.knowing("type", "default", "required", "of", "pattern", "least", "most", "ask", "about");
        String word = form.needed("type", 20, String.join(", ", ParameterType.words()));
        Optional<ParameterType> type = ParameterType.of(word);
        if (type.isEmpty()) {
            if (!word.isEmpty()) {
                form.complain(
                        "type",
                        "'" + word + "' is no type; there are " + String.join(", ", ParameterType.words())
                                + Nearest.hint(word, ParameterType.words()));
            }
            return Optional.empty();
        }
        if (type.get() == ParameterType.SECRET && form.has("default")) {
            form.complain("default", "a secret has no default: definitions are there to be read");
        }
        Optional<String> fallback = form.text("default", CommonForm.LONGEST_TEXT);
        if (fallback.isEmpty() && !form.yes("required", true)) {
            fallback = Optional.of("");
        }
        var parameter = new Parameter(
                name,
                type.get(),
                fallback,
                allowed(form, type.get()),
                form.text("about", CommonForm.LONGEST_LINE).orElse(""),
                form.yes("ask", false));
        parameter.fallback().filter(text -> form.has("default")).ifPresent(text -> {
            if (CommonForm.check(form, "default", text, before)) {
                complaints(parameter, text).forEach(message -> form.complain("default", message));
            }
        });
        return Optional.of(parameter);
    }

    private static Allowed allowed(Section form, ParameterType type) {
        List<String> of = form.texts("of", CommonForm.LONGEST_LINE);
        if (type == ParameterType.CHOICE && of.isEmpty()) {
            form.complain("of", "a choice needs its values, such as of: [ a, b ]");
        }
        if (type != ParameterType.CHOICE && type != ParameterType.LIST && form.has("of")) {
            form.complain("of", "only a choice or a list has listed values");
        }
        boolean matched = List.of(ParameterType.TEXT, ParameterType.PATH, ParameterType.LIST)
                .contains(type);
        if (form.has("pattern") && !matched) {
            form.complain("pattern", "only a text, a path or a list has a pattern");
        }
        Optional<SafePattern> pattern = form.text("pattern", CommonForm.LONGEST_LINE)
                .flatMap(text -> CommonForm.pattern(form, "pattern", text));
        return new Allowed(of, pattern, bound(form, "least", type), bound(form, "most", type));
    }

    private static Optional<String> bound(Section form, String key, ParameterType type) {
        Optional<String> text = form.text(key, 60);
        if (text.isEmpty()) {
            return text;
        }
        Optional<String> value = type.bound(text.get());
        if (value.isEmpty()) {
            form.complain(
                    key,
                    type.isOrdered()
                            ? "'" + text.get() + "' is not " + type.allowed
                            : "values of the type " + type.word() + " have no order");
        }
        return value;
    }

    private static List<String> complaints(Parameter parameter, String text) {
        return new Parameters(List.of(parameter))
                .complaints(Map.of(parameter.name(), text)).stream()
                        .map(problem -> problem.message())
                        .toList();
    }
}
