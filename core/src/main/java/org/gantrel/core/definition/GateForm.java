package org.gantrel.core.definition;

import java.math.BigDecimal;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.Template;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.Words;
import org.gantrel.core.yaml.Section;

/** Reads the gates of a job, each of which asks for one thing. */
final class GateForm {

    private static final List<String> SUBJECTS =
            List.of("file", "free", "load", "request", "sql", "between", "calendar", "job", "when");
    private final Section section;
    private final Parameters parameters;

    GateForm(Section section, Parameters parameters) {
        this.section = section;
        this.parameters = parameters;
    }

    Gates read() {
        var gates = new ArrayList<Gate>();
        for (Section form : section.sections("gates")) {
            List<String> subjects = SUBJECTS.stream().filter(form::has).toList();
            if (subjects.size() == 1) {
                gate(form, subjects.get(0)).ifPresent(gates::add);
            } else {
                String found = subjects.isEmpty() ? "" : "; here are " + Words.list(subjects);
                form.complain(
                        form.keys().isEmpty() ? "" : form.keys().get(0),
                        "a gate asks for one thing: " + String.join(", ", SUBJECTS) + found);
            }
        }
        Gates all = patience(gates);
        gates.stream()
                .filter(Gate.Load.class::isInstance)
                .map(gate -> ((Gate.Load) gate).during())
                .filter(during -> during.compareTo(all.patience()) >= 0)
                .forEach(during -> section.complain(
                        "gates",
                        "the load is looked at from the planned time on, so that it cannot have been low for "
                                + Words.duration(during) + " within the patience, " + Words.duration(all.patience())));
        return all;
    }

    private Gates patience(List<Gate> gates) {
        Optional<Section> found = section.section("gate-patience");
        if (found.isEmpty()) {
            return new Gates(gates, Gates.NONE.lookEvery(), Gates.NONE.patience(), true);
        }
        Section form = found.get();
        form.knowing("look-every", "for", "then");
        if (gates.isEmpty() && !section.has("gates")) {
            section.complain("gate-patience", "goes with 'gates': there is nothing to wait for");
        }
        Duration every = CommonForm.duration(form, "look-every", "PT24H").orElse(Gates.NONE.lookEvery());
        Duration patience = CommonForm.duration(form, "for", "P30D").orElse(Gates.NONE.patience());
        if (every.compareTo(patience) > 0) {
            form.complain(
                    "look-every", Words.duration(every) + " is longer than the patience, " + Words.duration(patience));
        }
        boolean skips = CommonForm.word(form, "then", List.of("skip", "fail"))
                .map("skip"::equals)
                .orElse(true);
        return new Gates(gates, every, patience, skips);
    }

    private Optional<Gate> gate(Section form, String subject) {
        return switch (subject) {
            case "file" -> {
                form.knowing("file", "settled", "host");
                String path = path(form, "file");
                String host = host(form);
                yield Optional.of(new Gate.FileThere(
                        path,
                        CommonForm.duration(form, "settled", "PT24H").orElse(Duration.ZERO),
                        host,
                        isGlob(form, path, !host.isEmpty())));
            }
            case "free" -> {
                form.knowing("free", "under", "host");
                form.needed("under", 1_000, "the folder whose file system is looked at");
                String under = path(form, "under");
                Optional<Long> bytes = CommonForm.size(form, "free");
                if (bytes.filter(each -> each == 0).isPresent()) {
                    form.complain("free", "is nothing, so that the gate would never be shut; such as 5 GB");
                }
                String host = host(form);
                yield bytes.map(each -> new Gate.FreeSpace(each, under, host));
            }
            case "load" -> load(form);
            case "between" -> between(form);
            case "calendar" -> {
                form.knowing("calendar");
                yield Optional.of(new Gate.InCalendar(CommonForm.name(form, "calendar", "the name of a calendar")));
            }
            case "job" -> jobEnded(form);
            case "when" -> {
                form.knowing("when");
                String expression = form.text("when", 2_000).orElse("");
                CommonForm.check(form, "when", "${" + expression + "}", parameters.names());
                yield Optional.of(new Gate.Holds(expression));
            }
            default -> expected(form, subject);
        };
    }

    /** Whether the name of a file is written as a glob; what stands for a value is none. */
    private static boolean isGlob(Section form, String path, boolean elsewhere) {
        String written = Template.of(path).fill(expression -> "");
        String name = written.substring(written.lastIndexOf('/') + 1);
        if (!name.contains("*") && !name.contains("?")) {
            return false;
        }
        try {
            Glob.of(name);
        } catch (IllegalArgumentException e) {
            form.complain("file", e.getMessage());
        }
        if (elsewhere && name.contains("{")) {
            form.complain("file", "on another host a glob has no '{a,b}': two gates would say both");
        }
        return true;
    }

    private Optional<Gate> load(Section form) {
        form.knowing("load", "during", "host");
        String text = form.text("load", 20).orElse("");
        if (!text.matches("\\d{1,4}(\\.\\d{1,2})?")) {
            form.complain("load", "'" + text + "': the load that it has to be below, such as 1.5");
            return Optional.empty();
        }
        if (new BigDecimal(text).signum() == 0) {
            form.complain("load", "no load is below 0, so that the gate would always be shut; such as 1.5");
        }
        return Optional.of(new Gate.Load(
                new BigDecimal(text),
                CommonForm.duration(form, "during", "PT24H").orElse(Duration.ZERO),
                host(form)));
    }

    private static String host(Section form) {
        return form.has("host") ? CommonForm.name(form, "host", "the credential of the host") : "";
    }

    private Optional<Gate> between(Section form) {
        form.knowing("between", "and");
        if (!form.has("and")) {
            form.complain("and", "is missing: the local time until which it may start, such as \"06:00\"");
        }
        var from = CommonForm.time(form, "between");
        var until = CommonForm.time(form, "and");
        if (from.isPresent() && from.equals(until)) {
            form.complain("and", "is the same time as 'between': the gate would always be shut");
        }
        return from.flatMap(begin -> until.map(end -> new Gate.Between(begin, end)));
    }

    private Optional<Gate> jobEnded(Section form) {
        form.knowing("job", "ended", "since");
        String job = CommonForm.name(form, "job", "the name of a job");
        boolean good = CommonForm.word(form, "ended", List.of("good", "any"))
                .map("good"::equals)
                .orElse(true);
        Optional<String> since = form.text("since", 40);
        boolean day = since.isEmpty() || since.get().equals("planned.date");
        Optional<Duration> ago = day ? Optional.empty() : CommonForm.duration(form, "since", "P366D");
        return Optional.of(new Gate.JobEnded(job, good, ago));
    }

    private Optional<Gate> expected(Section form, String subject) {
        boolean query = subject.equals("sql");
        List<String> ofRequests = List.of("headers", "expect", "patience");
        List<String> words = new ArrayList<>(List.of(subject, "acts-as"));
        words.addAll(query ? List.of() : ofRequests);
        words.addAll(ActionForm.EXPECTATIONS);
        form.knowing(words, Map.of("request", ofRequests));
        if (query && ActionForm.EXPECTATIONS.stream().noneMatch(form::has)) {
            form.complain(
                    "sql", "what is expected of its value is missing: " + String.join(", ", ActionForm.EXPECTATIONS));
        }
        return new ActionForm(parameters).check(form, "gate").map(Gate.Expected::new);
    }

    private String path(Section form, String key) {
        return CommonForm.fullPath(form, key, parameters.names());
    }
}
