package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.gantrel.core.chain.ChainCheck;
import org.gantrel.core.chain.StepOrder;
import org.gantrel.core.chain.StepSpeech;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.yaml.Section;

/** Reads a chain. */
final class ChainForm {

    private ChainForm() {}

    static Job.Chain read(Section section) {
        section.knowing(
                "chain",
                "team",
                "about",
                "parameters",
                "steps",
                "finally",
                "schedules",
                "notify",
                "owner",
                "labels",
                "keep",
                "while-running",
                "apart-by",
                "lanes",
                "priority",
                "gates",
                "gate-patience",
                "time-limit",
                "stop-at",
                "long-after",
                "triggers",
                "expect");
        String name = CommonForm.name(section, "chain", "the name of the chain");
        Parameters parameters = ParameterForm.read(section);
        new SecretSpread(section, parameters);
        return new Job.Chain(
                name,
                CommonForm.team(section),
                CommonForm.about(section),
                parameters,
                steps(section, parameters),
                CommonForm.schedules(section, parameters),
                CommonForm.concern(section),
                CommonForm.retention(section),
                new RulesForm(section, parameters).ofChain(),
                TriggerForm.read(section, name, parameters));
    }

    private static List<Step> steps(Section section, Parameters parameters) {
        var steps = new ArrayList<Step>();
        Map<String, Section> forms = new HashMap<>();
        read(section, "steps", parameters, steps, forms);
        if (steps.isEmpty()) {
            section.complain("steps", "is missing: a list of steps, such as [ { job: settle-tickets } ]");
        }
        read(section, "finally", parameters, steps, forms);
        List<ChainCheck.Complaint> complaints = new ArrayList<>(ChainCheck.of(steps));
        complaints.forEach(found -> forms.get(found.step()).complain(found.field(), found.message()));
        if (complaints.isEmpty()) {
            expressions(steps, parameters, forms);
        }
        return rostersOfRows(steps);
    }

    private static void read(
            Section section, String key, Parameters parameters, List<Step> steps, Map<String, Section> forms) {
        String before = "";
        for (Section form : section.sections(key)) {
            Step step = new StepForm(form, parameters, key.equals("finally")).read(before);
            if (forms.containsKey(step.name())) {
                form.complain("step", "'" + step.name() + "' is the name of an earlier step; give this one its own");
                continue;
            }
            forms.put(step.name(), form);
            steps.add(step);
            before = step.name();
        }
    }

    /** What a step says may speak of the chain's parameters, and of results of the steps that come before it. */
    private static void expressions(List<Step> steps, Parameters parameters, Map<String, Section> forms) {
        // a bit a step: of a thousand steps in a row the names of all before each would be half a million
        Map<String, Integer> places = new HashMap<>();
        steps.forEach(step -> places.put(step.name(), places.size()));
        Map<String, BitSet> before = new HashMap<>();
        var main = new BitSet();
        for (Step step : new StepOrder(steps).sorted()) {
            var all = new BitSet();
            step.links().forEach(link -> {
                all.set(places.get(link.after()));
                all.or(before.get(link.after()));
            });
            before.put(step.name(), all);
            if (!step.last()) {
                main.set(places.get(step.name()));
            }
        }
        Map<String, String> names = new HashMap<>();
        steps.forEach(step -> names.put(step.alias(), step.name()));
        for (Step step : steps) {
            BitSet known = before.get(step.name());
            if (step.last()) {
                known.or(main);
            }
            uses(step, steps, places, known, forms.get(step.name()));
            for (StepSpeech.Said said : StepSpeech.of(step)) {
                StepFacts.Shapes shapes = alias -> Optional.ofNullable(names.get(alias))
                        .filter(name -> known.get(places.get(name)) || said.ofItself() && name.equals(step.name()))
                        .map(name -> StepFacts.Shape.ANY);
                try {
                    said.check(parameters.names(), shapes);
                } catch (ExpressionException e) {
                    forms.get(step.name())
                            .complain(
                                    said.field(),
                                    e.getMessage() + later(said, names, name -> known.get(places.get(name))));
                }
            }
        }
    }

    /** The steps whose rows and outputs a step takes come before it, and are what they are taken for. */
    private static void uses(Step step, List<Step> steps, Map<String, Integer> places, BitSet known, Section form) {
        step.rowsOf().ifPresent(rows -> before(rows.step(), steps, places, known, form, "over")
                .filter(sweep -> sweep.over().isEmpty() && sweep.rowsOf().isEmpty())
                .ifPresent(single -> form.complain(
                        "over",
                        rows.step() + " runs over no roster, so it has no rows; a step with over: would be right")));
        step.files().forEach((variable, output) -> before(
                        output.step(), steps, places, known, form, "files." + variable)
                .filter(other -> other.runs().isEmpty()
                        || !other.over().isEmpty()
                        || other.rowsOf().isPresent())
                .ifPresent(other -> form.complain(
                        "files." + variable,
                        output.step() + " has no outputs of its own; a step that runs one job would be right")));
    }

    private static Optional<Step> before(
            String name, List<Step> steps, Map<String, Integer> places, BitSet known, Section form, String field) {
        Integer place = places.get(name);
        if (place == null) {
            form.complain(field, "there is no step '" + name + "'" + Nearest.hint(name, places.keySet()));
            return Optional.empty();
        }
        if (!known.get(place)) {
            form.complain(field, name + " does not come before this step, so there is nothing of it then");
            return Optional.empty();
        }
        return Optional.of(steps.get(place));
    }

    /** A step over the rows of an earlier one is over that one's roster. Which comes before is known to be so by now. */
    private static List<Step> rostersOfRows(List<Step> steps) {
        if (steps.stream().noneMatch(step -> step.rowsOf().isPresent())) {
            return steps;
        }
        Map<String, String> rosters = new HashMap<>();
        for (Step step : new StepOrder(steps).sorted()) {
            rosters.put(
                    step.name(),
                    step.rowsOf()
                            .map(rows -> rosters.getOrDefault(rows.step(), ""))
                            .orElse(step.over()));
        }
        return steps.stream().map(step -> step.over(rosters.get(step.name()))).toList();
    }

    private static String later(StepSpeech.Said said, Map<String, String> names, Predicate<String> known) {
        return said.aliases().stream()
                .map(names::get)
                .filter(name -> name != null && !known.test(name))
                .findFirst()
                .map(name -> "; " + name + " does not come before this step, so nothing is known of it then")
                .orElse("");
    }
}
