package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.yaml.Section;

/** Reads a chain. A step that does not say what it follows follows the one before it. */
final class ChainForm {

    private static final List<String> ENDS =
            Arrays.stream(FollowsOn.values()).map(FollowsOn::word).toList();

    private ChainForm() {}

    static Job.Chain read(Section section) {
        section.knowing(
                "chain",
                "team",
                "about",
                "parameters",
                "steps",
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
                "long-after");
        Parameters parameters = ParameterForm.read(section);
        new SecretSpread(section, parameters);
        return new Job.Chain(
                CommonForm.name(section, "chain", "the name of the chain"),
                CommonForm.team(section),
                CommonForm.about(section),
                parameters,
                steps(section, parameters),
                CommonForm.schedules(section, parameters),
                CommonForm.mailOnFailure(section),
                CommonForm.retention(section),
                new RulesForm(section, parameters).ofChain());
    }

    private static List<Step> steps(Section section, Parameters parameters) {
        var steps = new ArrayList<Step>();
        var names = new ArrayList<String>();
        for (Section form : section.sections("steps")) {
            form.knowing("step", "job", "after", "on", "with");
            String job = CommonForm.name(form, "job", "the job that the step runs");
            String name = form.has("step") ? CommonForm.name(form, "step", "the name of the step") : job;
            if (names.contains(name)) {
                form.complain("step", "'" + name + "' is the name of an earlier step; give this one its own");
            }
            steps.add(new Step(name, job, after(form, names), on(form), with(form, parameters)));
            names.add(name);
        }
        if (steps.isEmpty()) {
            section.complain("steps", "is missing: a list of steps, such as [ { job: settle-tickets } ]");
        }
        return steps;
    }

    private static List<String> after(Section form, List<String> earlier) {
        if (!form.has("after")) {
            return earlier.isEmpty() ? List.of() : List.of(earlier.get(earlier.size() - 1));
        }
        List<String> after = form.isList("after")
                ? form.texts("after", 60)
                : form.text("after", 60).stream().toList();
        for (String name : after) {
            if (!earlier.contains(name)) {
                form.complain(
                        "after",
                        "'" + name + "' is no earlier step"
                                + (earlier.isEmpty() ? "; this is the first" : Nearest.hint(name, earlier)));
            }
        }
        return after;
    }

    private static FollowsOn on(Section form) {
        return CommonForm.word(form, "on", ENDS)
                .map(word -> FollowsOn.values()[ENDS.indexOf(word)])
                .orElse(FollowsOn.SUCCESS);
    }

    private static Map<String, String> with(Section form, Parameters parameters) {
        Map<String, String> with = form.map("with", CommonForm.LONGEST_TEXT);
        with.values().forEach(text -> CommonForm.check(form, "with", text, parameters.names()));
        return with;
    }
}
