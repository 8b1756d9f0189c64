package org.gantrel.core.definition;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.Outside;
import org.gantrel.core.action.Safety;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Leftovers;
import org.gantrel.core.job.Rules;
import org.gantrel.core.job.Step;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.Limits;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.run.Retry;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.SafePattern;
import org.gantrel.core.text.Words;
import org.gantrel.core.yaml.Section;

/** Reads how runs of a job behave with nobody watching: overlap, lanes, priority, gates, limits and retries. */
final class RulesForm {

    private static final List<RunState> RETRIED = List.of(RunState.FAILED, RunState.TIMED_OUT, RunState.WARNED);

    private static final List<String> NOT_OUTSIDE =
            List.of("gates", "gate-patience", "retry", "lanes", "acts-as", "outputs");

    private final Section section;
    private final Parameters parameters;

    RulesForm(Section section, Parameters parameters) {
        this.section = section;
        this.parameters = parameters;
    }

    Rules ofTask(Action action, Leftovers leftovers, Optional<Duration> timeLimit) {
        Overlap overlap = overlap();
        if (overlap.mode() == Overlap.Mode.REPLACE && leftovers == Leftovers.LET_GO) {
            section.complain(
                    "while-running",
                    "'replace' stops the earlier run, and with 'leftovers: let-go' what it left behind goes on; wait or skip"
                            + " would be right");
        }
        Limits limits = limits(CommonForm.duration(section, "total-limit", "P30D"));
        limits.total()
                .filter(total ->
                        timeLimit.filter(each -> each.compareTo(total) > 0).isPresent())
                .ifPresent(total -> section.complain(
                        "total-limit",
                        Words.duration(total) + " over all tries is less than the time limit of one, "
                                + Words.duration(timeLimit.get())));
        longBefore(limits, timeLimit);
        Retry retry = retry(Optional.of(action));
        limits.total()
                .filter(total -> retry.tries() > 1 && retry.pause().compareTo(total) >= 0)
                .ifPresent(total -> section.complain(
                        "total-limit",
                        "within " + Words.duration(total) + " no second try can come: the first wait is "
                                + Words.duration(retry.pause())));
        Gates gates = new GateForm(section, parameters).read();
        if (action instanceof Outside outside) {
            NOT_OUTSIDE.stream()
                    .filter(section::has)
                    .forEach(key ->
                            section.complain(key, "has no place here: the work is done outside, and only told of"));
            gates = new Gates(List.of(new Gate.ToldStart()), Gates.NONE.lookEvery(), outside.startWithin(), true);
        }
        return new Rules(overlap, lanes(), priority(), gates, limits, retry, ExpectForm.read(section));
    }

    Rules ofChain() {
        Gates gates = new GateForm(section, parameters).read();
        if (!gates.credentials().isEmpty()) {
            section.complain(
                    "gates", "a chain acts as nobody; a gate with a credential stands at the job of its first step");
        }
        return new Rules(overlap(), lanes(), priority(), gates, ofChainLimits(), Retry.NEVER, ExpectForm.read(section));
    }

    private Limits ofChainLimits() {
        Limits limits = limits(CommonForm.duration(section, "time-limit", "P30D"));
        longBefore(limits, limits.total());
        return limits;
    }

    /** What is stopped is never said to be long. */
    private void longBefore(Limits limits, Optional<Duration> stopped) {
        limits.longAfter()
                .flatMap(from -> stopped.filter(limit -> limit.compareTo(from) <= 0))
                .ifPresent(limit -> section.complain(
                        "long-after",
                        "it is stopped after " + Words.duration(limit) + " already, by its time limit; less than that"
                                + " would be right"));
    }

    private Overlap overlap() {
        List<String> apartBy = section.texts("apart-by", 120);
        for (String name : apartBy) {
            Optional<Parameter> parameter = parameters.all().stream()
                    .filter(each -> each.name().equals(name))
                    .findFirst();
            if (parameter.isEmpty()) {
                section.complain(
                        "apart-by",
                        "'" + name + "' is no parameter of the job" + Nearest.hint(name, parameters.names()));
            } else if (parameter.get().isSecret()) {
                section.complain(
                        "apart-by", "'" + name + "' is a secret, and would be told of in the reason of a wait");
            }
        }
        Optional<String> text = section.text("while-running", 20);
        if (text.isEmpty()) {
            return new Overlap(Overlap.Mode.WAIT, 1, apartBy);
        }
        Optional<Overlap.Mode> mode = Overlap.Mode.of(text.get());
        if (mode.isPresent()) {
            return new Overlap(mode.get(), 1, apartBy);
        }
        boolean number = text.get().matches("\\d{1,4}")
                && Integer.parseInt(text.get()) >= 1
                && Integer.parseInt(text.get()) <= Overlap.MOST;
        if (!number) {
            section.complain(
                    "while-running",
                    "'" + text.get() + "': wait, skip, replace, or how many may go side by side, from 1 to "
                            + Overlap.MOST);
            return Overlap.USUAL;
        }
        return new Overlap(Overlap.Mode.WAIT, Integer.parseInt(text.get()), apartBy);
    }

    private Map<String, Integer> lanes() {
        var lanes = new LinkedHashMap<String, Integer>();
        if (!section.has("lanes")) {
            return lanes;
        }
        if (section.isList("lanes")) {
            for (Section.Entry entry : section.mixed("lanes", Job.LONGEST_NAME)) {
                if (entry.section().isPresent()) {
                    section.complain(
                            "lanes", "a list holds names alone; numbers of places take a mapping, such as { quay: 2 }");
                    continue;
                }
                String name = entry.text().orElseThrow();
                if (lanes.put(name, 1) != null) {
                    section.complain("lanes", "'" + name + "' is named twice; { " + name + ": 2 } takes two places");
                }
            }
        } else {
            section.section("lanes")
                    .ifPresent(form -> form.keys().forEach(name -> CommonForm.number(form, name, 1, Lane.WIDEST)
                            .ifPresent(places -> lanes.put(name, places))));
        }
        for (String name : lanes.keySet()) {
            if (!name.matches(Job.NAME)) {
                section.complain("lanes", "'" + name + "' is no name of a lane");
            }
        }
        return lanes;
    }

    private int priority() {
        return CommonForm.number(section, "priority", 1, Rules.HIGHEST).orElse(Rules.USUAL_PRIORITY);
    }

    private Limits limits(Optional<Duration> total) {
        return new Limits(
                total,
                CommonForm.time(section, "stop-at"),
                CommonForm.duration(section, "stop-patience", "PT1H"),
                CommonForm.duration(section, "long-after", "P30D"));
    }

    /** What a chain has of a job's rules for one of its steps. What the job does is not known here. */
    Step.Own ofStep() {
        return new Step.Own(
                section.has("acts-as")
                        ? Optional.of(CommonForm.name(section, "acts-as", "the name of a credential"))
                        : Optional.empty(),
                section.has("lanes") ? Optional.of(lanes()) : Optional.empty(),
                section.has("priority") ? Optional.of(priority()) : Optional.empty(),
                CommonForm.duration(section, "time-limit", "P30D"),
                section.has("retry") ? Optional.of(retry(Optional.empty())) : Optional.empty());
    }

    private Retry retry(Optional<Action> action) {
        Optional<Section> found = section.section("retry");
        if (found.isEmpty()) {
            return Retry.NEVER;
        }
        Section form = found.get();
        form.knowing("tries", "wait", "growth", "longest", "after", "exit-codes", "messages", "repeatable");
        if (!form.has("tries")) {
            form.complain("tries", "is missing: how many tries there are in all, such as 3; without an end is none");
        }
        boolean repeatable = form.yes("repeatable", false);
        action.flatMap(Safety::unsafe)
                .filter(what -> !repeatable)
                .ifPresent(
                        what -> form.complain(
                                "repeatable",
                                what
                                        + " may do its work twice when it is tried again; 'repeatable: yes' says that this is fine"));
        Duration wait = CommonForm.duration(form, "wait", "P7D").orElse(Duration.ofMinutes(1));
        Duration longest = CommonForm.duration(form, "longest", "P7D").orElse(wait.compareTo(HOUR) > 0 ? wait : HOUR);
        if (longest.compareTo(wait) < 0) {
            form.complain(
                    "longest", Words.duration(longest) + " is shorter than the first wait, " + Words.duration(wait));
        }
        return new Retry(
                CommonForm.number(form, "tries", 2, Retry.MOST_TRIES).orElse(2),
                wait,
                growth(form),
                longest,
                after(form),
                codes(form, action),
                messages(form));
    }

    private static final Duration HOUR = Duration.ofHours(1);

    private static double growth(Section form) {
        Optional<String> text = form.text("growth", 20);
        if (text.isEmpty()) {
            return 1;
        }
        if (!text.get().matches("\\d{1,2}(\\.\\d{1,2})?")
                || Double.parseDouble(text.get()) < 1
                || Double.parseDouble(text.get()) > 10) {
            form.complain("growth", "'" + text.get() + "': a number from 1 to 10 is expected, such as 2");
            return 1;
        }
        return Double.parseDouble(text.get());
    }

    private static Set<RunState> after(Section form) {
        if (!form.has("after")) {
            return Set.of(RunState.FAILED, RunState.TIMED_OUT);
        }
        var after = new HashSet<RunState>();
        List<String> words = RETRIED.stream().map(RunState::word).toList();
        for (String word : form.texts("after", 20)) {
            if (words.contains(word)) {
                after.add(RunState.of(word).orElseThrow());
            } else {
                form.complain("after", "'" + word + "': " + String.join(", ", words) + Nearest.hint(word, words));
            }
        }
        return after;
    }

    private static Set<Integer> codes(Section form, Optional<Action> action) {
        if (form.has("exit-codes")
                && action.filter(work -> !(work instanceof Command)).isPresent()) {
            form.complain("exit-codes", "only a command has them");
        }
        return OutcomeForm.codes(form, "exit-codes");
    }

    private static List<SafePattern> messages(Section form) {
        var patterns = new ArrayList<SafePattern>();
        form.texts("messages", CommonForm.LONGEST_LINE)
                .forEach(text -> CommonForm.pattern(form, "messages", text).ifPresent(patterns::add));
        int size = patterns.stream().mapToInt(SafePattern::size).sum();
        if (size > Retry.LARGEST_MESSAGES) {
            form.complain(
                    "messages",
                    "the patterns come to " + size + " instructions together; at most " + Retry.LARGEST_MESSAGES
                            + " can be looked for at each end");
        }
        return patterns;
    }
}
