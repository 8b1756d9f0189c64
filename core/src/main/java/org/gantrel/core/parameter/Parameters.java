package org.gantrel.core.parameter;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.expression.Template;
import org.gantrel.core.expression.ValueKind;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;

/** The parameters of a job, in the order in which it declares them. */
public record Parameters(List<Parameter> all) {

    /**
     * What matching all values of a start may take: characters times instructions of their patterns. Tens of milliseconds
     * at most.
     */
    private static final long MOST_WORK = 5_000_000;

    public static final Parameters NONE = new Parameters(List.of());

    public Parameters {
        all = List.copyOf(all);
    }

    public Optional<Parameter> named(String name) {
        return all.stream().filter(parameter -> parameter.name().equals(name)).findFirst();
    }

    /** What the values are, by their names; one that may be left out is a text. */
    public Map<String, ValueKind> kinds() {
        return all.stream()
                .filter(parameter ->
                        parameter.fallback().filter(String::isEmpty).isEmpty())
                .collect(Collectors.toMap(
                        Parameter::name, parameter -> parameter.type().kind()));
    }

    public List<String> names() {
        return all.stream().map(Parameter::name).toList();
    }

    /**
     * Works out the value of every parameter from what was given and from the defaults, as of the planned time.
     *
     * @throws InvalidException naming every unknown, missing and wrong value
     */
    public Map<String, String> resolve(Map<String, String> given, PlannedTime planned) {
        // a start is written down where others wait: all its defaults together are worked out as one text is
        return new Bindings(Map.of(), planned).together(() -> resolved(given, planned));
    }

    private Map<String, String> resolved(Map<String, String> given, PlannedTime planned) {
        var problems = new ArrayList<>(unknown(given));
        var values = new LinkedHashMap<String, String>();
        var checking = new Checking();
        for (Parameter parameter : all) {
            try {
                Optional<String> text = value(parameter, given, new Bindings(values, planned));
                Optional<String> complaint =
                        text.isEmpty() ? Optional.of(missing(parameter)) : checking.complaint(parameter, text.get());
                complaint.ifPresent(message -> problems.add(Problem.of(parameter.name(), message)));
                if (complaint.isEmpty()) {
                    values.put(parameter.name(), parameter.canonical(text.get()));
                }
            } catch (ExpressionException e) {
                problems.add(Problem.of(parameter.name(), e.getMessage()));
            }
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return values;
    }

    /**
     * A default as it is for a start at some time.
     *
     * @param words what it is against the planned day, such as "the day before"; empty where there is nothing to say
     */
    public record Default(String value, String words) {}

    /** What each default is for a start at a time; those that need a value which has to be given are left out. */
    public Map<String, Default> defaultsAt(PlannedTime planned) {
        var defaults = new LinkedHashMap<String, Default>();
        known(Map.of(), Set.of(), planned)
                .forEach((name, value) -> defaults.put(
                        name, new Default(value, dayWords(named(name).orElseThrow(), value, planned))));
        return defaults;
    }

    /**
     * What is known before the rest is given, by the rows of a sweep for one: the values that are there, and each default
     * that speaks of none that is not.
     *
     * @param open those that are not known though they may have a default, or a value that another takes the place of
     */
    public Map<String, String> known(Map<String, String> given, Collection<String> open, PlannedTime planned) {
        return new Bindings(Map.of(), planned).together(() -> {
            var values = new LinkedHashMap<String, String>();
            for (Parameter parameter : all) {
                if (open.contains(parameter.name())) {
                    continue;
                }
                try {
                    value(parameter, given, new Bindings(values, planned))
                            .filter(text -> parameter.complaint(text).isEmpty())
                            .ifPresent(text -> values.put(parameter.name(), parameter.canonical(text)));
                } catch (ExpressionException e) {
                    // it speaks of a value that is not given yet
                }
            }
            return values;
        });
    }

    private static String dayWords(Parameter parameter, String value, PlannedTime planned) {
        if (parameter.type() != ParameterType.DATE
                || parameter.fallback().filter(Template::isFilled).isEmpty()) {
            return "";
        }
        long days = ChronoUnit.DAYS.between(planned.date(), LocalDate.parse(value));
        if (days == 0) {
            return "the day of the start";
        }
        String side = days < 0 ? " before" : " after";
        return Math.abs(days) == 1 ? "the day" + side : Math.abs(days) + " days" + side;
    }

    /**
     * Values that are given for a part of the parameters, in their canonical form.
     *
     * @throws InvalidException naming every unknown and wrong value
     */
    public Map<String, String> preset(Map<String, String> given) {
        List<Problem> problems = complaints(given);
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        var values = new LinkedHashMap<String, String>();
        given.forEach((name, text) -> values.put(name, named(name).orElseThrow().canonical(text)));
        return values;
    }

    /** Those values that a start by hand must give and does not. */
    public List<Problem> unasked(Map<String, String> given) {
        return all.stream()
                .filter(parameter -> parameter.ask() && !given.containsKey(parameter.name()))
                .map(parameter -> Problem.of(
                        parameter.name(),
                        "is asked for at every start by hand; " + parameter.type().allowed + " is needed"
                                + choices(parameter)))
                .toList();
    }

    /** What is wrong with values that are preset, without asking for those that are missing. */
    public List<Problem> complaints(Map<String, String> preset) {
        var problems = new ArrayList<>(unknown(preset));
        var checking = new Checking();
        for (Parameter parameter : all) {
            String text = preset.get(parameter.name());
            if (text != null && !Template.isFilled(text)) {
                checking.complaint(parameter, text)
                        .ifPresent(complaint -> problems.add(Problem.of(parameter.name(), complaint)));
            }
        }
        return problems;
    }

    /** Looks at the values of one start, whose patterns may take so much work together. */
    private static final class Checking {
        private long work;

        Optional<String> complaint(Parameter parameter, String text) {
            work += parameter.work(text);
            return work <= MOST_WORK
                    ? parameter.complaint(text)
                    : Optional.of("its value, with those before it, is too long for the patterns that they must match");
        }
    }

    /** A default may speak of the parameters before it. */
    private static Optional<String> value(Parameter parameter, Map<String, String> given, Bindings known) {
        String text = given.get(parameter.name());
        if (text != null && (!text.isEmpty() || parameter.type() == ParameterType.TEXT)) {
            return Optional.of(text);
        }
        return parameter.fallback().map(known::fill);
    }

    private static String missing(Parameter parameter) {
        return "no value is given; " + parameter.type().allowed + " is needed" + choices(parameter);
    }

    private List<Problem> unknown(Map<String, String> given) {
        return given.keySet().stream()
                .filter(name -> named(name).isEmpty())
                .map(name -> Problem.of(
                        name,
                        "there is no such parameter"
                                + (all.isEmpty()
                                        ? "; this job takes none"
                                        : Nearest.to(name, names())
                                                .map(near -> "; did you mean '" + near + "'?")
                                                .orElse("; there are " + String.join(", ", names())))))
                .toList();
    }

    private static String choices(Parameter parameter) {
        return parameter.allowed().of().isEmpty()
                ? ""
                : ": " + String.join(", ", parameter.allowed().of());
    }
}
