package org.gantrel.core.definition;

import java.time.Duration;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import org.gantrel.core.event.EventType;
import org.gantrel.core.expression.ExpressionException;
import org.gantrel.core.expression.StepFacts;
import org.gantrel.core.expression.Template;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.parameter.Parameter;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Glob;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.trigger.CallGuard;
import org.gantrel.core.trigger.CallGuard.Proof;
import org.gantrel.core.trigger.FileWatch;
import org.gantrel.core.trigger.Limit;
import org.gantrel.core.trigger.OpenHours;
import org.gantrel.core.trigger.RowWatch;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.core.trigger.Trigger.Source;
import org.gantrel.core.yaml.Section;

/** Reads the events that start a job. */
final class TriggerForm {

    private static final List<String> ENDS =
            List.of("succeeded", "warned", "failed", "timed-out", "cancelled", "skipped", "missed");
    private static final List<String> ALWAYS = List.of("name", "on", "when", "with", "delay", "limit", "hours");
    private static final String LONGEST = "P366D";
    private static final int LONGEST_SQL = 10_000;
    private static final int MOST_TRIGGERS = 50;
    private static final Duration LEAST_LOOK = Duration.ofSeconds(1);
    private static final Duration USUAL_LOOK = Duration.ofMinutes(1);

    private final Section form;
    private final String owner;
    private final Parameters parameters;

    private TriggerForm(Section form, String owner, Parameters parameters) {
        this.form = form;
        this.owner = owner;
        this.parameters = parameters;
    }

    /** @param owner the job's own name: what starts itself has no end */
    static List<Trigger> read(Section section, String owner, Parameters parameters) {
        var triggers = new ArrayList<Trigger>();
        var names = new HashSet<String>();
        List<Section> forms = section.sections("triggers");
        if (forms.size() > MOST_TRIGGERS) {
            section.complain("triggers", "are " + forms.size() + "; a job has at most " + MOST_TRIGGERS);
        }
        for (Section form : forms) {
            Optional<Trigger> trigger = new TriggerForm(form, owner, parameters).read();
            trigger.filter(each -> !names.add(each.name()))
                    .ifPresent(each ->
                            form.complain("name", "'" + each.name() + "' is the name of another trigger of this job"));
            trigger.ifPresent(triggers::add);
        }
        return triggers;
    }

    private Optional<Trigger> read() {
        if (!form.has("on")) {
            form.complain("on", "is missing: the event, such as run.ended, file.arrived or call.received");
            return Optional.empty();
        }
        Optional<EventType> found =
                CommonForm.word(form, "on", EventType.words()).flatMap(EventType::of);
        return found.map(this::read);
    }

    private Trigger read(EventType on) {
        form.knowing(Stream.concat(ALWAYS.stream(), keys(on).stream()).toArray(String[]::new));
        boolean ofStep = on == EventType.STEP_ENDED;
        JobScope scope = scope(on);
        Map<String, String> with = with(on);
        String when = form.text("when", 2_000).map(String::strip).orElse("");
        if (!when.isEmpty()) {
            check("when", () -> Template.checkCondition(when, List.of(), shapes(on)));
        }
        return new Trigger(
                CommonForm.name(form, "name", "what the trigger is called within its job"),
                on,
                scope,
                ofStep ? CommonForm.name(form, "step", "the step of that chain") : "",
                ends(),
                source(on),
                when,
                with,
                CommonForm.duration(form, "delay", "P30D").orElse(Duration.ZERO),
                limit(),
                hours());
    }

    private static List<String> keys(EventType on) {
        return switch (on.about()) {
            case JOB ->
                switch (on) {
                    case STEP_ENDED -> List.of("of", "step", "ends");
                    case RUN_ENDED -> List.of("of", "labels", "teams", "ends");
                    default -> List.of("of", "labels", "teams");
                };
            case WATCH ->
                switch (on) {
                    case FILE_AGED -> List.of("under", "matching", "deep", "look-every", "host", "age");
                    case FOLDER_SILENT -> List.of("under", "matching", "deep", "look-every", "host", "for");
                    case FILE_GONE -> List.of("under", "matching", "deep", "look-every", "host");
                    default -> List.of("under", "matching", "deep", "look-every", "host", "settled", "marker");
                };
            case CALL -> List.of("token", "signature", "within", "most-a-minute");
            case QUERY -> List.of("sql", "key", "acts-as", "look-every");
            case TEAM -> List.of("teams");
            case INSTALLATION -> List.of();
        };
    }

    private JobScope scope(EventType on) {
        List<String> jobs = CommonForm.some(form, "of");
        List<String> labels = CommonForm.some(form, "labels");
        List<String> teams = CommonForm.some(form, "teams");
        if (on.about() != EventType.About.JOB) {
            return new JobScope(List.of(), List.of(), teams);
        }
        if (jobs.isEmpty() && labels.isEmpty() && teams.isEmpty()) {
            form.complain(
                    "of",
                    on == EventType.STEP_ENDED
                            ? "is missing: the chain whose step it waits for"
                            : "is missing: the job whose event it waits for, a pattern, or 'labels' or 'teams'");
        }
        for (String job : jobs) {
            if (JobScope.isPattern(job) && on != EventType.STEP_ENDED) {
                try {
                    Glob.of(job);
                } catch (IllegalArgumentException e) {
                    form.complain("of", e.getMessage());
                }
            } else if (!job.matches("[a-z][a-z0-9]*(-[a-z0-9]+)*")) {
                form.complain("of", "'" + job + "' is no name of a job");
            }
        }
        boolean ofRuns = on == EventType.RUN_CREATED || on == EventType.RUN_STARTED || on == EventType.RUN_ENDED;
        if (ofRuns && !owner.isEmpty() && jobs.contains(owner)) {
            form.complain("of", "a job that its own end starts would never come to rest");
        }
        return new JobScope(jobs, labels, teams);
    }

    private Map<String, String> with(EventType on) {
        Map<String, String> with = form.map("with", CommonForm.LONGEST_TEXT);
        form.complain("with", parameters.complaints(with));
        with.values().forEach(text -> check("with", () -> Template.of(text).check(List.of(), shapes(on))));
        for (Parameter parameter : parameters.all()) {
            if (parameter.isSecret() && with.containsKey(parameter.name())) {
                form.complain("with." + parameter.name(), "is a secret, which a definition cannot hold");
            } else if (parameter.fallback().isEmpty() && !with.containsKey(parameter.name())) {
                form.complain(
                        "with." + parameter.name(),
                        "is missing: the parameter has no default, and nobody is there to be asked");
            }
        }
        return with;
    }

    /** What the texts of a trigger may name. */
    private static StepFacts.Shapes shapes(EventType on) {
        var shape = new StepFacts.Shape(Optional.empty(), on.kinds());
        return alias -> alias.equals(Trigger.EVENT) ? Optional.of(shape) : Optional.empty();
    }

    private void check(String key, Runnable check) {
        try {
            check.run();
        } catch (ExpressionException e) {
            form.complain(key, e.getMessage());
        }
    }

    private Set<RunState> ends() {
        var ends = new HashSet<RunState>();
        for (String word : CommonForm.some(form, "ends")) {
            if (ENDS.contains(word)) {
                ends.add(RunState.of(word).orElseThrow());
            } else {
                form.complain("ends", "'" + word + "': " + String.join(", ", ENDS) + Nearest.hint(word, ENDS));
            }
        }
        return ends;
    }

    private Source source(EventType on) {
        return switch (on.about()) {
            case WATCH -> Source.of(files(on));
            case CALL -> Source.of(calls());
            case QUERY -> Source.of(rows());
            default -> Source.NONE;
        };
    }

    private FileWatch files(EventType on) {
        String marker = form.text("marker", 40).orElse("");
        if (marker.contains("/")) {
            form.complain("marker", "'" + marker + "': the ending of a file beside it, such as .done");
        }
        if (on == EventType.FILE_AGED && !form.has("age")) {
            form.complain("age", "is missing: the age from which on a file counts, such as 2 days");
        }
        if (on == EventType.FOLDER_SILENT && !form.has("for")) {
            form.complain("for", "is missing: for how long nothing may come, such as 26 h");
        }
        return new FileWatch(
                CommonForm.watchedFolder(form),
                CommonForm.watchedFiles(form),
                CommonForm.number(form, "deep", 1, FileWatch.DEEPEST).orElse(1),
                CommonForm.duration(form, "settled", "PT24H").orElse(FileWatch.USUALLY_SETTLED),
                marker,
                CommonForm.duration(form, "age", LONGEST),
                CommonForm.duration(form, "for", LONGEST),
                CommonForm.duration(form, "look-every", "PT24H"),
                form.has("host") ? CommonForm.name(form, "host", "the credential of the host") : "");
    }

    private CallGuard calls() {
        boolean token = form.has("token");
        if (token == form.has("signature")) {
            form.complain(
                    token ? "signature" : "token",
                    "either 'token' or 'signature' names the credential that a call shows it may come by");
        }
        if (token && form.has("within")) {
            form.complain("within", "goes with 'signature': a token does not say when the call was made");
        }
        String key = token ? "token" : "signature";
        return new CallGuard(
                token ? Proof.TOKEN : Proof.SIGNATURE,
                form.has(key) ? CommonForm.name(form, key, "the name of a credential") : "",
                CommonForm.duration(form, "within", "PT24H").orElse(CallGuard.USUALLY_WITHIN),
                CommonForm.number(form, "most-a-minute", 1, CallGuard.HIGHEST_MOST)
                        .orElse(CallGuard.USUAL_MOST));
    }

    private RowWatch rows() {
        Duration every = CommonForm.duration(form, "look-every", "PT24H").orElse(USUAL_LOOK);
        return new RowWatch(
                form.needed("sql", LONGEST_SQL, "the query whose rows are looked for"),
                form.needed("key", 60, "the column that makes a row one and the same"),
                CommonForm.name(form, "acts-as", "the credential of the database"),
                every.compareTo(LEAST_LOOK) < 0 ? LEAST_LOOK : every);
    }

    private Optional<Limit> limit() {
        return form.section("limit").map(limit -> {
            limit.knowing("starts", "in", "then");
            if (!limit.has("starts")) {
                limit.complain("starts", "is missing: how many starts there may be");
            }
            if (!limit.has("in")) {
                limit.complain("in", "is missing: the span in which there may be so many, such as 10 min");
            }
            boolean gathers = CommonForm.word(limit, "then", List.of("gather", "drop"))
                    .map("gather"::equals)
                    .orElse(true);
            return new Limit(
                    CommonForm.number(limit, "starts", 1, Limit.MOST_STARTS).orElse(1),
                    CommonForm.duration(limit, "in", "P30D").orElse(Duration.ofMinutes(1)),
                    gathers);
        });
    }

    private Optional<OpenHours> hours() {
        return form.section("hours").map(hours -> {
            hours.knowing("from", "until", "zone", "calendar", "then");
            Optional<LocalTime> from = CommonForm.time(hours, "from");
            Optional<LocalTime> until = CommonForm.time(hours, "until");
            if (until.isPresent() && until.get().equals(from.orElse(LocalTime.MIDNIGHT))) {
                hours.complain("until", "is the same time as 'from': it would never be open, or always");
            }
            if (from.isEmpty() && until.isEmpty() && !hours.has("calendar")) {
                hours.complain("from", "is missing: 'from', 'until' or 'calendar' says when it may start");
            }
            ZoneId zone = CommonForm.zone(hours);
            boolean keeps = CommonForm.word(hours, "then", List.of("keep", "drop"))
                    .map("keep"::equals)
                    .orElse(true);
            return new OpenHours(
                    from.orElse(LocalTime.MIDNIGHT),
                    until.filter(end -> !end.equals(LocalTime.MIDNIGHT)),
                    zone,
                    hours.has("calendar") ? CommonForm.name(hours, "calendar", "the name of a calendar") : "",
                    keeps);
        });
    }
}
