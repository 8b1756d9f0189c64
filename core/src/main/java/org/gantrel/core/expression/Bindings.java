package org.gantrel.core.expression;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Supplier;
import org.gantrel.core.text.Glob;

/**
 * What the texts of a definition are filled from: the values of the parameters and the planned time.
 *
 * @param kinds what the values are; those that are not named are texts
 * @param steps what is known of the steps before, of a step of a chain
 */
public record Bindings(Map<String, String> values, PlannedTime planned, Map<String, ValueKind> kinds, StepFacts steps) {

    /**
     * A text whose values are handed over beside it.
     *
     * @param typed the same where every mark says what kind of value takes its place
     */
    public record Bound(String text, List<String> values, String typed) {
        public Bound(String text, List<String> values) {
            this(text, values, text);
        }
    }

    public Bindings {
        values = Map.copyOf(values);
        kinds = Map.copyOf(kinds);
    }

    public Bindings(Map<String, String> values, PlannedTime planned) {
        this(values, planned, Map.of(), StepFacts.NONE);
    }

    /** The same, knowing what the values are. */
    public Bindings typed(Map<String, ValueKind> as) {
        return new Bindings(values, planned, as, steps);
    }

    /** The same, knowing what the steps before came to. */
    public Bindings after(StepFacts before) {
        return new Bindings(values, planned, kinds, before);
    }

    /** Works out several texts that share what one may take, such as all values that a step hands on. */
    public <T> T together(Supplier<T> texts) {
        return Work.within(texts);
    }

    /**
     * Whether a condition holds.
     *
     * @throws ExpressionException where it cannot be worked out
     */
    public boolean holds(String condition) {
        return Expressions.holds(condition, values, planned, steps);
    }

    /**
     * A text of JSON with every expression worked out: between quotes it is escaped, elsewhere numbers and yes or no stay
     * what they are, and anything else becomes a text of JSON.
     */
    public String fillJson(String text) {
        return together(() -> Template.of(text).fillJson(this::meaning));
    }

    private Template.Meaning meaning(String expression) {
        String value = values.get(expression);
        return value != null
                ? new Template.Meaning(value, kinds.getOrDefault(expression, ValueKind.TEXT))
                : steps.text(expression)
                        .map(text -> new Template.Meaning(text, ValueKind.TEXT))
                        .orElseGet(() -> Expressions.meaning(expression, values, planned, steps));
    }

    /**
     * A text with every expression worked out.
     *
     * @throws ExpressionException where one cannot be
     */
    public String fill(String text) {
        return fill(Template.of(text));
    }

    /**
     * An address with every expression worked out: values in its path and its query are written so that each stays one value
     * (RFC 3986, 2.1). An expression that the address begins with gives it, or its beginning, as it is.
     *
     * @throws ExpressionException where one cannot be worked out, or has no place where it stands
     */
    public String fillAddress(String text) {
        return together(
                () -> Template.of(text).fill(expression -> meaning(expression).text(), new AddressText()));
    }

    /**
     * A glob with every expression worked out: what a value holds stands for itself, unless the value is the whole glob.
     *
     * @throws ExpressionException where one cannot be
     */
    public String fillGlob(String text) {
        return fillWritten(text, Glob::literal);
    }

    /**
     * A text of some form with every expression worked out, each as it is written there to stand for itself; one that is the
     * whole text is that text.
     *
     * @throws ExpressionException where one cannot be
     */
    public String fillWritten(String text, Template.Writing writing) {
        Template template = Template.of(text);
        return template.isOneExpression()
                ? fill(template)
                : together(() -> template.fill(expression -> meaning(expression).text(), writing));
    }

    String fill(Template template) {
        return together(() -> template.fill(expression -> meaning(expression).text()));
    }

    public List<String> fill(List<String> texts) {
        return together(() -> texts.stream().map(this::fill).toList());
    }

    public Map<String, String> fill(Map<String, String> texts) {
        var filled = new LinkedHashMap<String, String>();
        return together(() -> {
            texts.forEach((name, text) -> filled.put(name, fill(text)));
            return filled;
        });
    }

    /** A text with a question mark for every expression, and what they came to, so that no value is ever read as code. */
    public Bound bind(String text) {
        return bind(text, "?");
    }

    /** The same with another mark. */
    public Bound bind(String text, String mark) {
        var found = new ArrayList<Template.Meaning>();
        Template template = Template.of(text);
        String marked = together(() -> template.fill(expression -> {
            found.add(meaning(expression));
            return mark;
        }));
        var next = found.iterator();
        String typed = template.fill(expression -> {
            Template.Meaning meaning = next.next();
            return mark.equals("?") ? meaning.kind().mark(meaning.text()) : mark;
        });
        return new Bound(marked, found.stream().map(Template.Meaning::text).toList(), typed);
    }
}
