package org.gantrel.core.definition;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.expression.Template;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.core.yaml.Section;

/** Reads the events that start a job. */
final class TriggerForm {

    private static final List<String> ENDS =
            List.of("succeeded", "warned", "failed", "timed-out", "cancelled", "skipped", "missed");
    private static final StepFacts.Shapes KNOWN =
            alias -> alias.equals(Trigger.EVENT) ? Optional.of(StepFacts.Shape.ANY) : Optional.empty();

    private TriggerForm() {}

    /** @param owner the job's own name: what starts itself has no end */
    static List<Trigger> read(Section section, String owner, Parameters parameters) {
        var triggers = new ArrayList<Trigger>();
        var names = new HashSet<String>();
        for (Section form : section.sections("triggers")) {
            form.knowing("name", "on", "of", "step", "ends", "when", "with", "delay");
            Trigger trigger = read(form, parameters);
            if (!names.add(trigger.name())) {
                form.complain("name", "'" + trigger.name() + "' is the name of another trigger of this job");
            }
            if (!owner.isEmpty() && trigger.of().equals(owner)) {
                form.complain("of", "a job that its own end starts would never come to rest");
            }
            triggers.add(trigger);
        }
        return triggers;
    }

    private static Trigger read(Section form, Parameters parameters) {
        Trigger.On on = CommonForm.word(form, "on", Trigger.On.words())
                .flatMap(Trigger.On::of)
                .orElse(Trigger.On.RUN_ENDED);
        if (!form.has("on")) {
            form.complain("on", "is missing: " + String.join(" or ", Trigger.On.words()));
        }
        boolean ofStep = on == Trigger.On.STEP_ENDED;
        if (!ofStep && form.has("step")) {
            form.complain("step", "only step.ended has one");
        }
        Map<String, String> with = form.map("with", CommonForm.LONGEST_TEXT);
        form.complain("with", parameters.complaints(with));
        with.values()
                .forEach(text -> check(form, "with", () -> Template.of(text).check(List.of(), KNOWN)));
        for (Parameter parameter : parameters.all()) {
            if (parameter.isSecret() && with.containsKey(parameter.name())) {
                form.complain("with." + parameter.name(), "is a secret, which a definition cannot hold");
            } else if (parameter.fallback().isEmpty() && !with.containsKey(parameter.name())) {
                form.complain(
                        "with." + parameter.name(),
                        "is missing: the parameter has no default, and nobody is there to be asked");
            }
        }
        String when = form.text("when", 2_000).map(String::strip).orElse("");
        if (!when.isEmpty()) {
            check(form, "when", () -> Template.checkCondition(when, List.of(), KNOWN));
        }
        return new Trigger(
                CommonForm.name(form, "name", "what the trigger is called within its job"),
                on,
                CommonForm.name(form, "of", "the job whose end it waits for"),
                ofStep ? CommonForm.name(form, "step", "the step of that chain") : "",
                ends(form),
                when,
                with,
                CommonForm.duration(form, "delay", "P30D").orElse(Duration.ZERO));
    }

    private static void check(Section form, String key, Runnable check) {
        try {
            check.run();
        } catch (ExpressionException e) {
            form.complain(key, e.getMessage());
        }
    }

    private static Set<RunState> ends(Section form) {
        var ends = new HashSet<RunState>();
        for (String word : form.texts("ends", 20)) {
            if (ENDS.contains(word)) {
                ends.add(RunState.of(word).orElseThrow());
            } else {
                form.complain("ends", "'" + word + "': " + String.join(", ", ENDS) + Nearest.hint(word, ENDS));
            }
        }
        return ends;
    }
}
