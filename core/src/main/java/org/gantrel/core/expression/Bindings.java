package org.gantrel.core.expression;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;

/** What the texts of a definition are filled from: the values of the parameters and the planned time. */
public record Bindings(Map<String, String> values, PlannedTime planned) {

    /** A text whose values are handed over beside it. */
    public record Bound(String text, List<String> values) {}

    public Bindings {
        values = Map.copyOf(values);
    }

    /**
     * A text with every expression worked out.
     *
     * @throws ExpressionException where one cannot be
     */
    public String fill(String text) {
        return Template.of(text).fill(values, planned);
    }

    public List<String> fill(List<String> texts) {
        return texts.stream().map(this::fill).toList();
    }

    public Map<String, String> fill(Map<String, String> texts) {
        var filled = new LinkedHashMap<String, String>();
        texts.forEach((name, text) -> filled.put(name, fill(text)));
        return filled;
    }

    /** A text with a question mark for every expression, and what they came to, so that no value is ever read as code. */
    public Bound bind(String text) {
        return bind(text, "?");
    }

    /** The same with another mark. */
    public Bound bind(String text, String mark) {
        var found = new ArrayList<String>();
        String marked = Template.of(text).fill(expression -> {
            found.add(fill("${" + expression + "}"));
            return mark;
        });
        return new Bound(marked, List.copyOf(found));
    }
}
