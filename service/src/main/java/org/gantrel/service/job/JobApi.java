package org.gantrel.service.job;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.net.URI;
import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.DefinitionEdit;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.change.Revision;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.http.EditTag;
import org.gantrel.service.http.Paging;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Jobs, their definitions and revisions. */
@RestController
@RequestMapping("/api/v1/jobs")
@Transactional
class JobApi {

    /** A job in a list. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record JobSummary(
            String name,
            String team,
            String kind,
            String about,
            int revision,
            List<ScheduleFacts.ScheduleView> schedules,
            Instant next,
            RunFacts.LastRun last,
            Duration usual,
            boolean mayStart) {}

    /** @param definition a definition file with one job */
    record DefinitionBody(String definition) {}

    private final Jobs jobs;
    private final JobChecks checks;
    private final JobWarnings warnings;
    private final RunFacts runs;
    private final ScheduleFacts schedules;
    private final Teams teams;
    private final JobUse use;
    private final Turn turn;
    private final TransactionTemplate transaction;

    JobApi(
            Jobs jobs,
            JobChecks checks,
            JobWarnings warnings,
            RunFacts runs,
            ScheduleFacts schedules,
            Teams teams,
            JobUse use,
            Turn turn,
            TransactionTemplate transaction) {
        this.turn = turn;
        this.transaction = transaction;
        this.use = use;
        this.jobs = jobs;
        this.checks = checks;
        this.warnings = warnings;
        this.runs = runs;
        this.schedules = schedules;
        this.teams = teams;
    }

    @GetMapping
    @Transactional(readOnly = true)
    ResponseEntity<List<JobSummary>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "") String team,
            @RequestParam(defaultValue = "") String q,
            @RequestParam(defaultValue = "100") int limit,
            @RequestParam(defaultValue = "") String after) {
        Collection<Team> of =
                team.isEmpty() ? caller.among(teams.all(), Deed.SEE_JOBS) : List.of(teams.visible(caller, team));
        List<JobEntry> found = jobs.search(of, q, after, Paging.limit(limit) + 1);
        return Paging.page(found, limit, JobEntry::name, job -> summary(caller, job));
    }

    @GetMapping("/{name}")
    @Transactional(readOnly = true)
    ResponseEntity<JobView> show(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        return answer(HttpStatus.OK, caller, jobs.visible(caller, name), List.of());
    }

    @PostMapping
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<JobView> create(@AuthenticationPrincipal Caller caller, @RequestBody DefinitionBody body) {
        caller.requireSomewhere(Deed.DEFINE_JOBS);
        return save(HttpStatus.CREATED, caller, () -> {
            Definition definition = read(caller, body);
            String name = definition.job().name();
            jobs.named(name).ifPresent(taken -> {
                throw Refusal.conflict("there is a job '" + name + "' already; change it with PUT");
            });
            return definition;
        });
    }

    @PutMapping("/{name}")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<JobView> change(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody DefinitionBody body) {
        return save(HttpStatus.OK, caller, () -> changed(caller, name, ifMatch, body));
    }

    private Definition changed(Caller caller, String name, String ifMatch, DefinitionBody body) {
        JobEntry job = jobs.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, job.team());
        new EditTag(job.revision()).require(ifMatch, "job " + name, () -> jobs.revision(job, job.revision())
                .madeBy());
        Definition definition = read(caller, body);
        if (!definition.job().name().equals(name)) {
            throw new InvalidException(
                    job.kind(),
                    "the definition names '" + definition.job().name() + "', and the job is '" + name
                            + "'; a job keeps its name");
        }
        return definition;
    }

    /** Takes a job out of use. @param also others that go in the same move, such as the chains that it is a step of */
    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void retire(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestParam(defaultValue = "") List<String> also) {
        turn.perform(() -> retired(caller, name, also));
    }

    private void retired(Caller caller, String name, List<String> also) {
        List<JobEntry> all = Stream.concat(Stream.of(name), also.stream())
                .distinct()
                .map(each -> jobs.visible(caller, each))
                .toList();
        all.forEach(job -> caller.require(Deed.RETIRE_JOBS, job.team()));
        use.refuseWhereUsed(caller, all.stream().map(JobEntry::name).toList());
        all.forEach(job -> jobs.retire(caller, job));
    }

    /** Takes a schedule out of the definition; all else of it stays as it was written. */
    @DeleteMapping("/{name}/schedules/{schedule}")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<JobView> removeSchedule(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @PathVariable String schedule) {
        return save(HttpStatus.OK, caller, () -> without(caller, name, schedule));
    }

    private Definition without(Caller caller, String name, String schedule) {
        JobEntry job = jobs.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, job.team());
        List<String> known =
                jobs.current(job).schedules().stream().map(Schedule::name).toList();
        if (!known.contains(schedule)) {
            throw Refusal.notFound(
                    "the job " + name + " has no schedule '" + schedule + "'" + Nearest.hint(schedule, known));
        }
        String text = DefinitionEdit.withoutSchedule(jobs.text(job, job.revision()), schedule);
        return read(caller, new DefinitionBody(text));
    }

    @GetMapping("/{name}/revisions")
    @Transactional(readOnly = true)
    List<Revision.View> revisions(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        return jobs.revisions(jobs.visible(caller, name)).stream()
                .map(Revision::view)
                .toList();
    }

    @GetMapping("/{name}/revisions/{revision}")
    @Transactional(readOnly = true)
    Revision.View revision(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @PathVariable int revision) {
        return jobs.revision(jobs.visible(caller, name), revision).view();
    }

    private Definition read(Caller caller, DefinitionBody body) {
        Definition definition = DefinitionReader.readOne(body.definition() == null ? "" : body.definition());
        List<Problem> problems = checks.problems(caller, definition, JobChecks.Together.only(definition));
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return definition;
    }

    /**
     * Looks ahead between two transactions, so that nobody waits for a connection or for records while other systems are
     * asked; what was fine before that is judged once more.
     *
     * @param judged reads the definition, and refuses what cannot be saved
     */
    private ResponseEntity<JobView> save(HttpStatus status, Caller caller, Supplier<Definition> judged) {
        Job job = transaction.execute(begun -> judged.get()).job();
        List<String> ahead = warnings.ahead(List.of(job)).get(0);
        return turn.change(() -> answer(status, caller, jobs.save(caller, judged.get()), ahead));
    }

    private ResponseEntity<JobView> answer(HttpStatus status, Caller caller, JobEntry record, List<String> ahead) {
        Job job = jobs.current(record);
        var view = JobView.of(
                caller,
                record,
                job,
                jobs.text(record, record.revision()),
                schedules.of(record),
                use.usedBy(caller, record.name()),
                runs.defaults(job),
                runs,
                warnings.of(job, ahead));
        return ResponseEntity.status(status)
                .location(URI.create("/api/v1/jobs/" + record.name()))
                .eTag(new EditTag(record.revision()).toString())
                .body(view);
    }

    private JobSummary summary(Caller caller, JobEntry record) {
        List<ScheduleFacts.ScheduleView> planned = schedules.of(record);
        Instant next = planned.stream()
                .flatMap(schedule -> schedule.next().stream())
                .min(Instant::compareTo)
                .orElse(null);
        return new JobSummary(
                record.name(),
                record.team(),
                record.kind(),
                record.about(),
                record.revision(),
                planned,
                next,
                runs.last(record.id()).orElse(null),
                runs.usual(record.id()).orElse(null),
                caller.may(Deed.START_RUNS, record.team()));
    }
}
