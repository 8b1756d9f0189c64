package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.chain.ChainCheck;
import org.gantrel.core.chain.StepOrder;
import org.gantrel.core.chain.StepSpeech;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.parameter.Parameters;
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
                "keep",
                "while-running",
                "apart-by",
                "lanes",
                "priority",
                "gates",
                "gate-patience",
                "stop-at",
                "long-after",
                "triggers");
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
                CommonForm.mailOnFailure(section),
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
        List<ChainCheck.Complaint> complaints = ChainCheck.of(steps);
        complaints.forEach(found -> forms.get(found.step()).complain(found.field(), found.message()));
        if (complaints.isEmpty()) {
            expressions(steps, parameters, forms);
        }
        return steps;
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
            forms.keySet().stream()
                    .filter(name -> name.replace('-', '_').equals(step.alias()))
                    .findFirst()
                    .ifPresent(name -> form.complain(
                            "step",
                            "'" + step.name() + "' and '" + name
                                    + "' are the same in expressions, where a dash is '_'"));
            forms.put(step.name(), form);
            steps.add(step);
            before = step.name();
        }
    }

    /** What a step says may speak of the chain's parameters, and of results of the steps that come before it. */
    private static void expressions(List<Step> steps, Parameters parameters, Map<String, Section> forms) {
        Map<String, Set<String>> before = new HashMap<>();
        Set<String> main = new HashSet<>();
        for (Step step : new StepOrder(steps).sorted()) {
            Set<String> all = new HashSet<>();
            step.links().forEach(link -> {
                all.add(link.after());
                all.addAll(before.getOrDefault(link.after(), Set.of()));
            });
            before.put(step.name(), all);
            if (!step.last()) {
                main.add(step.name());
            }
        }
        Map<String, String> names = new HashMap<>();
        steps.forEach(step -> names.put(step.alias(), step.name()));
        for (Step step : steps) {
            Set<String> known = new HashSet<>(before.get(step.name()));
            if (step.last()) {
                known.addAll(main);
            }
            for (StepSpeech.Said said : StepSpeech.of(step)) {
                StepFacts.Shapes shapes = alias -> java.util.Optional.ofNullable(names.get(alias))
                        .filter(name -> known.contains(name) || said.ofItself() && name.equals(step.name()))
                        .map(name -> StepFacts.Shape.ANY);
                try {
                    said.check(parameters.names(), shapes);
                } catch (ExpressionException e) {
                    forms.get(step.name()).complain(said.field(), e.getMessage() + later(said, names, known));
                }
            }
        }
    }

    private static String later(StepSpeech.Said said, Map<String, String> names, Set<String> known) {
        return said.aliases().stream()
                .map(names::get)
                .filter(name -> name != null && !known.contains(name))
                .findFirst()
                .map(name -> "; " + name + " does not come before this step, so nothing is known of it then")
                .orElse("");
    }
}
