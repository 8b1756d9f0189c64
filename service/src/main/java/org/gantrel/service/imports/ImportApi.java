package org.gantrel.service.imports;

import java.util.ArrayList;
import java.util.List;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.service.job.JobAdvice;
import org.gantrel.service.job.JobChecks;
import org.gantrel.service.job.JobRecord;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.team.Caller;
import org.gantrel.service.web.Invalid;
import org.gantrel.service.web.ProblemView.Wrong;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Brings in definition files: all of them, or, where anything is wrong, none. */
@RestController
@RequestMapping("/api/v1/imports")
public class ImportApi {

    private static final int MOST_FILES = 1_000;

    /** A definition file. */
    public record DefinitionFile(String name, String text) {}

    /** What is brought in together. */
    public record ImportBody(List<DefinitionFile> files) {}

    /**
     * What became of one definition, or would become of it.
     *
     * @param action {@code create}, {@code change} or {@code leave}
     * @param revision the revision that the job has then
     */
    public record Imported(
            String file, String kind, String name, String team, String action, int revision, List<String> warnings) {}

    private record Found(String file, Definition definition) {}

    private final Jobs jobs;
    private final JobChecks checks;
    private final JobAdvice advice;

    ImportApi(Jobs jobs, JobChecks checks, JobAdvice advice) {
        this.jobs = jobs;
        this.checks = checks;
        this.advice = advice;
    }

    /** Brings files in; a dry run says what would be done and does nothing. */
    @PostMapping
    @Transactional
    public List<Imported> bringIn(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "false") boolean dryRun,
            @RequestBody ImportBody body) {
        if (body.files() == null || body.files().isEmpty() || body.files().size() > MOST_FILES) {
            throw new InvalidException("files", "1 to " + MOST_FILES + " files are expected");
        }
        var problems = new ArrayList<Wrong>();
        List<Found> found = read(body.files(), problems);
        List<Definition> together = found.stream().map(Found::definition).toList();
        for (Found each : found) {
            checks.problems(caller, each.definition(), together)
                    .forEach(problem -> problems.add(Wrong.of(each.file(), problem)));
        }
        if (!problems.isEmpty()) {
            throw new Invalid(problems);
        }
        return found.stream().map(each -> bringIn(caller, each, dryRun)).toList();
    }

    private static List<Found> read(List<DefinitionFile> files, List<Wrong> problems) {
        var found = new ArrayList<Found>();
        for (DefinitionFile file : files) {
            try {
                String text = file.text() == null ? "" : file.text();
                for (Definition definition : DefinitionReader.read(text)) {
                    refuseRepeated(found, file.name(), definition, problems);
                    found.add(new Found(file.name(), definition));
                }
            } catch (InvalidException e) {
                e.problems().forEach(problem -> problems.add(Wrong.of(file.name(), problem)));
            }
        }
        return found;
    }

    private static void refuseRepeated(List<Found> found, String file, Definition definition, List<Wrong> problems) {
        String name = definition.job().name();
        found.stream()
                .filter(earlier -> earlier.definition().job().name().equals(name))
                .findFirst()
                .ifPresent(earlier -> problems.add(Wrong.of(
                        file,
                        new Problem(
                                "",
                                definition.line(),
                                1,
                                "the job " + name + " is defined already in " + earlier.file() + ", line "
                                        + earlier.definition().line()))));
    }

    private Imported bringIn(Caller caller, Found found, boolean dryRun) {
        Definition definition = found.definition();
        JobRecord known = jobs.named(definition.job().name()).orElse(null);
        String action;
        int revision;
        if (known == null) {
            action = "create";
            revision = 1;
        } else if (!known.isRetired() && jobs.text(known, known.revision()).equals(definition.text())) {
            action = "leave";
            revision = known.revision();
        } else {
            action = "change";
            revision = known.revision() + 1;
        }
        if (!dryRun && !action.equals("leave")) {
            jobs.save(caller, definition);
        }
        return new Imported(
                found.file(),
                definition.job() instanceof Job.Chain ? "chain" : "task",
                definition.job().name(),
                definition.job().team(),
                action,
                revision,
                advice.warnings(definition.job()));
    }
}
