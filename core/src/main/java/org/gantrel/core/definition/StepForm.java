package org.gantrel.core.definition;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.access.Role;
import org.gantrel.core.job.Step;
import org.gantrel.core.job.Step.FollowsOn;
import org.gantrel.core.job.Step.Link;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.yaml.Section;

/**
 * Reads a step of a chain. One that does not say what it follows follows the one before it, on success; one under finally
 * on any end.
 */
final class StepForm {

    private static final List<String> KINDS = List.of("job", "pause", "approval", "meeting");
    private static final List<String> FOR_JOBS =
            List.of("over", "with", "files", "go-on", "repeat", "acts-as", "lanes", "priority", "time-limit", "retry");
    private static final String LONGEST = "P30D";
    private static final int LONGEST_CONDITION = 2_000;
    private static final int MOST_TIMES = 1_000;

    private static final Pattern VARIABLE = Pattern.compile("[A-Z][A-Z0-9_]{0,59}");

    private static final Pattern OUTPUT = Pattern.compile("([a-z0-9][a-z0-9-]{0,59})\\s*:\\s*(\\S.{0,199})");

    private final Section form;
    private final Parameters parameters;
    private final boolean last;

    StepForm(Section form, Parameters parameters, boolean last) {
        this.form = form;
        this.parameters = parameters;
        this.last = last;
    }

    /** @param before the name of the step before it in the list; empty for the first */
    Step read(String before) {
        form.knowing(
                "step",
                "job",
                "over",
                "pause",
                "approval",
                "meeting",
                "of",
                "with-chains",
                "within",
                "then",
                "after",
                "on",
                "join",
                "when",
                "with",
                "files",
                "matters",
                "go-on",
                "repeat",
                "acts-as",
                "lanes",
                "priority",
                "time-limit",
                "retry");
        Step.Work work = work();
        FollowsOn on = CommonForm.word(form, "on", FollowsOn.words())
                .map(word -> FollowsOn.values()[FollowsOn.words().indexOf(word)])
                .orElse(last ? FollowsOn.ANY : FollowsOn.SUCCESS);
        List<Link> links = links(before, on);
        boolean goesOn = form.yes("go-on", false);
        Optional<Step.Until> until = until();
        if (goesOn && until.isPresent()) {
            form.complain("repeat", "a step that is not waited for has no result to look at");
        }
        return new Step(
                name(work),
                work,
                links,
                join(links),
                form.text("when", LONGEST_CONDITION).map(String::strip).orElse(""),
                last,
                form.yes("matters", true),
                goesOn,
                until,
                new RulesForm(form, parameters).ofStep());
    }

    private String name(Step.Work work) {
        if (form.has("step")) {
            return CommonForm.name(form, "step", "the name of the step");
        }
        if (work instanceof Step.Runs runs) {
            return runs.job();
        }
        if (work instanceof Step.Meeting meeting) {
            return meeting.name();
        }
        return CommonForm.name(form, "step", "the name of the step, such as 'sign'");
    }

    private Step.Work work() {
        List<String> said = KINDS.stream().filter(form::has).toList();
        if (said.size() > 1) {
            form.complain(
                    said.get(1), "a step does one thing: " + said.get(0) + " and " + said.get(1) + " are two steps");
        }
        String kind = said.isEmpty() ? "job" : said.get(0);
        if (!kind.equals("job")) {
            FOR_JOBS.stream()
                    .filter(form::has)
                    .forEach(key -> form.complain(key, "only a step that runs a job has it"));
        }
        if (!kind.equals("meeting")) {
            List.of("of", "with-chains", "within", "then").stream()
                    .filter(form::has)
                    .forEach(key -> form.complain(
                            key, kind.equals("approval") ? "stands under approval" : "only a meeting has it"));
        }
        return switch (kind) {
            case "pause" -> pause();
            case "approval" -> approval();
            case "meeting" -> meeting();
            default -> job();
        };
    }

    private Step.Work job() {
        String job = CommonForm.name(
                form, "job", "the job that the step runs; or pause, approval or meeting for a step that runs none");
        Map<String, String> with = form.map("with", CommonForm.LONGEST_TEXT);
        Map<String, Step.OutputOf> files = files();
        Optional<Section> rows = form.inner("over");
        if (rows.isPresent()) {
            return new Step.Runs(job, "", Optional.of(rowsOf(rows.get())), with, files);
        }
        String over = form.has("over")
                ? CommonForm.name(
                        form, "over", "the name of a roster, or { rows-of: STEP } for those of an earlier sweep")
                : "";
        return new Step.Runs(job, over, Optional.empty(), with, files);
    }

    /** {@code over: { rows-of: settle, that: failed }}. */
    private static Step.RowsOf rowsOf(Section own) {
        own.knowing("rows-of", "that");
        return new Step.RowsOf(
                own.needed("rows-of", 60, "the step whose rows are meant"),
                CommonForm.word(own, "that", Step.Which.words())
                        .map(word -> Step.Which.values()[Step.Which.words().indexOf(word)])
                        .orElse(Step.Which.ALL));
    }

    /** {@code files: { SALES: "report:sales.csv" }}. */
    private Map<String, Step.OutputOf> files() {
        Map<String, Step.OutputOf> files = new LinkedHashMap<>();
        form.map("files", CommonForm.LONGEST_LINE).forEach((variable, text) -> {
            Matcher output = OUTPUT.matcher(text.strip());
            if (!VARIABLE.matcher(variable).matches()) {
                form.complain(
                        "files." + variable,
                        "'" + variable
                                + "' is no name for a file: capital letters, digits and _, such as SALES; the command"
                                + " finds it as " + Step.FILE_VARIABLE + "SALES");
            } else if (!output.matches()) {
                form.complain(
                        "files." + variable,
                        "'" + text + "' is no output: the step and the name of the output, such as report:sales.csv");
            } else {
                files.put(variable, new Step.OutputOf(output.group(1), output.group(2)));
            }
        });
        return files;
    }

    /** {@code pause: 30 min}, or {@code pause: { until: "06:00" }}. */
    private Step.Work pause() {
        Optional<Section> until = form.inner("pause");
        if (until.isPresent()) {
            until.get().knowing("until");
            until.get().needed("until", 40, "a local time such as \"06:00\"");
            return new Step.Pause(Optional.empty(), CommonForm.time(until.get(), "until"));
        }
        return new Step.Pause(CommonForm.duration(form, "pause", LONGEST), Optional.empty());
    }

    private Step.Work approval() {
        Section own = form.section("approval").orElseThrow();
        own.knowing("by", "within", "then", "asks", "not-by-starter", "tells");
        Optional<Section> by = own.section("by");
        if (by.isEmpty()) {
            own.complain("by", "is missing: who may say, such as { team: finance, role: manager }");
        }
        by.ifPresent(who -> who.knowing("team", "role"));
        List<String> roles = Role.IN_TEAM.stream().map(Role::word).toList();
        String word = by.flatMap(who -> who.text("role", 20)).orElse(Role.OPERATOR.word());
        Optional<Role> role = Role.of(word).filter(found -> roles.contains(found.word()));
        if (role.isEmpty()) {
            by.ifPresent(who -> who.complain(
                    "role",
                    "'" + word + "' is no role; there are " + String.join(", ", roles) + Nearest.hint(word, roles)));
        }
        return new Step.Approval(
                by.map(who -> CommonForm.name(who, "team", "the team whose people may say"))
                        .orElse(""),
                role.orElse(Role.OPERATOR),
                CommonForm.duration(own, "within", LONGEST),
                goesOn(own),
                own.text("asks", CommonForm.LONGEST_LINE).orElse(""),
                own.yes("not-by-starter", false),
                tells(own));
    }

    private static List<String> tells(Section own) {
        List<String> tells = own.texts("tells", CommonForm.LONGEST_LINE);
        tells.stream()
                .filter(address -> !CommonForm.isAddress(address))
                .forEach(address -> own.complain("tells", "'" + address + "' is no mail address"));
        return tells;
    }

    private Step.Work meeting() {
        Optional<Duration> within = CommonForm.duration(form, "within", LONGEST);
        if (!form.has("within")) {
            form.complain("within", "is missing: how long it waits for the others, such as 3 h");
        }
        return new Step.Meeting(
                CommonForm.name(form, "meeting", "the name of the meeting"),
                form.text("of", CommonForm.LONGEST_LINE).orElse("${planned.date}"),
                form.texts("with-chains", 60),
                within.orElse(Duration.ofHours(1)),
                goesOn(form));
    }

    /** What becomes of the chain where nobody says anything, or nobody comes, in time. */
    private static boolean goesOn(Section section) {
        return CommonForm.word(section, "then", List.of("fail", "go-on"))
                .filter(word -> word.equals("go-on"))
                .isPresent();
    }

    private List<Link> links(String before, FollowsOn on) {
        if (!form.has("after")) {
            return before.isEmpty() ? List.of() : List.of(new Link(before, on, ""));
        }
        var links = new ArrayList<Link>();
        for (Section.Entry entry : form.mixed("after", CommonForm.LONGEST_LINE)) {
            entry.text().ifPresent(name -> links.add(new Link(name, on, "")));
            entry.section().ifPresent(own -> links.add(link(own, on)));
        }
        return links;
    }

    private static Link link(Section own, FollowsOn on) {
        own.knowing("step", "on", "when");
        return new Link(
                own.needed("step", 60, "the name of the step before"),
                CommonForm.word(own, "on", FollowsOn.words())
                        .map(word -> FollowsOn.values()[FollowsOn.words().indexOf(word)])
                        .orElse(on),
                own.text("when", LONGEST_CONDITION).map(String::strip).orElse(""));
    }

    private int join(List<Link> links) {
        Optional<String> word = form.text("join", 20);
        if (word.isEmpty() || word.get().equals("all")) {
            return Step.ALL;
        }
        if (links.isEmpty()) {
            form.complain("join", "this step follows none, so there is nothing to join");
            return Step.ALL;
        }
        if (word.get().equals("any")) {
            return 1;
        }
        if (!word.get().matches("[1-9]\\d{0,3}")) {
            form.complain("join", "'" + word.get() + "': all, any, or how many of the links have to hold, such as 2");
            return Step.ALL;
        }
        return Integer.parseInt(word.get());
    }

    private Optional<Step.Until> until() {
        Optional<Section> found = form.section("repeat");
        if (found.isEmpty()) {
            return Optional.empty();
        }
        Section own = found.get();
        own.knowing("until", "times", "every", "within");
        if (!own.has("times")) {
            own.complain("times", "is missing: how often it is done at most, such as 10");
        }
        return Optional.of(new Step.Until(
                own.needed("until", LONGEST_CONDITION, "a condition on its result, such as check.values.open == 0")
                        .strip(),
                CommonForm.number(own, "times", 2, MOST_TIMES).orElse(2),
                CommonForm.duration(own, "every", LONGEST).orElse(Duration.ofMinutes(1)),
                CommonForm.duration(own, "within", LONGEST)));
    }
}
