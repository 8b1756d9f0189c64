package org.gantrel.service.outside;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.StandardOpenOption;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.function.Predicate;
import org.gantrel.core.access.Deed;
import org.gantrel.core.action.Outside;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.Progress;
import org.gantrel.service.execution.Mask;
import org.gantrel.service.execution.RunFolder;
import org.gantrel.service.gate.Gatekeeper;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Ledger;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunProgress;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.run.Runs;
import org.gantrel.service.run.Starts;
import org.gantrel.service.secret.RandomToken;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/** Where other machines tell of work that they do by themselves: that it began, how far it is, that it ended. */
@RestController
@RequestMapping("/api/v1/outside/{job}")
class OutsideApi {

    private static final Logger LOG = LoggerFactory.getLogger(OutsideApi.class);
    private static final int MOST_LINES = 500;
    private static final int LONGEST_LINE = 2_000;
    private static final int LONGEST_MESSAGE = 1_500;
    private static final int MOST_RESULTS = 100;
    private static final int LONGEST_RESULTS = 15_000;

    /** @param run one that waits; the one that is due where nothing is said */
    record BeganBody(Long run, Map<String, String> values) {}

    /** @param share from 0 to 1 */
    record ProgressBody(Long run, Double share, String text) {}

    /**
     * How it ended.
     *
     * @param state succeeded, warned or failed; the exit code says it where nothing is said
     * @param lines the last lines of what it printed
     */
    record EndedBody(
            Long run,
            Integer exitCode,
            String state,
            String message,
            List<String> lines,
            Map<String, String> results) {}

    /** The run that it is. @param note what is special about it */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record OutsideAnswer(long run, String link, String note) {}

    private final Jobs jobs;
    private final Runs runs;
    private final Starts starts;
    private final Ledger ledger;
    private final RunProgress progress;
    private final RunValues values;
    private final TellStore tells;
    private final OutsideDesk desk;
    private final Gatekeeper gates;
    private final Settings settings;
    private final TransactionTemplate transaction;
    private final Clock clock;

    OutsideApi(
            Jobs jobs,
            Runs runs,
            Starts starts,
            Ledger ledger,
            RunProgress progress,
            RunValues values,
            TellStore tells,
            OutsideDesk desk,
            Gatekeeper gates,
            Settings settings,
            TransactionTemplate transaction,
            Clock clock) {
        this.jobs = jobs;
        this.runs = runs;
        this.starts = starts;
        this.ledger = ledger;
        this.progress = progress;
        this.values = values;
        this.tells = tells;
        this.desk = desk;
        this.gates = gates;
        this.settings = settings;
        this.transaction = transaction;
        this.clock = clock;
    }

    private JobEntry visible(Caller caller, String name) {
        JobEntry job = jobs.visible(caller, name);
        caller.require(Deed.START_RUNS, job.team());
        if (!(jobs.current(job) instanceof Job.Task task && task.action() instanceof Outside)) {
            throw Refusal.conflict(
                    name + " is done by the service itself; only a job that says 'does: outside' is told of");
        }
        return job;
    }

    /** Says that the work began: of the run that waits for it, or of one by itself where none does. */
    @PostMapping("/start")
    OutsideAnswer start(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @RequestBody(required = false) BeganBody body,
            @RequestHeader(name = "Idempotency-Key", required = false) String key) {
        JobEntry entry = visible(caller, job);
        BeganBody said = body == null ? new BeganBody(null, null) : body;
        return answer(began(caller, entry, Optional.ofNullable(said.run()), said.values(), hash(key)), null);
    }

    private static String hash(String key) {
        return key == null || key.isBlank() ? "" : RandomToken.hash(key);
    }

    private OutsideAnswer answer(long run, String note) {
        return new OutsideAnswer(run, settings.url() + "/runs/" + run, note);
    }

    /** One at a time: two that tell of a start at once are two runs. */
    private synchronized long began(
            Caller caller, JobEntry job, Optional<Long> given, Map<String, String> values, String key) {
        Optional<Tell> before =
                key.isEmpty() ? Optional.empty() : tells.findFirstByJobIdAndTellKeyOrderByRunNumberDesc(job.id(), key);
        if (before.isPresent()) {
            return before.get().run();
        }
        Instant now = clock.instant();
        Optional<Run> due = given.isPresent()
                ? Optional.of(named(job, given.get(), run -> !tells.existsById(run.number()), "waits for its start"))
                : waiting(job, now);
        long number = due.map(Run::number)
                .orElseGet(() -> starts.start(caller, job.name(), values == null ? Map.of() : values, Optional.empty())
                        .number());
        transaction.executeWithoutResult(status -> tells.save(new Tell(number, job.id(), caller.name(), key, now)));
        gates.lookSoon(number);
        return number;
    }

    /** The run of a schedule or a person that waits for its start to be told, the earliest first. */
    private Optional<Run> waiting(JobEntry job, Instant now) {
        return runs.waiting().stream()
                .filter(run -> run.jobId() == job.id() && !run.plannedAt().isAfter(now))
                .filter(run -> !tells.existsById(run.number()))
                .min(Comparator.comparing(Run::plannedAt));
    }

    private Run named(JobEntry job, long number, Predicate<Run> fits, String what) {
        Run run = runs.find(number)
                .filter(found -> found.jobId() == job.id())
                .orElseThrow(() -> Refusal.notFound("there is no run " + number + " of " + job.name()));
        if (run.state().isEnded() || !fits.test(run)) {
            throw Refusal.conflict("run " + number + " is " + run.state().word() + ", not one that " + what);
        }
        return run;
    }

    /**
     * The run whose start was told and whose end was not that is meant; nothing where there is none.
     *
     * @param key whoever tells under a key of their own does not mean what somebody else has begun under another
     */
    private Optional<Run> underway(JobEntry job, Optional<Long> given, String key) {
        if (given.isPresent()) {
            Run run = named(job, given.get(), each -> true, "is under way");
            return tells.existsById(run.number()) ? Optional.of(run) : Optional.empty();
        }
        var open = new ArrayList<>(runs.underwayAll());
        open.addAll(runs.waiting());
        List<Run> told = open.stream()
                .filter(run -> run.jobId() == job.id())
                .filter(run -> tells.findById(run.number())
                        .filter(tell ->
                                !tell.isOver() && (key.isEmpty() || tell.key().isEmpty()))
                        .isPresent())
                .toList();
        if (told.size() > 1) {
            throw Refusal.conflict(told.size() + " runs of " + job.name()
                    + " are under way; 'run' says which is meant: "
                    + told.stream().map(run -> String.valueOf(run.number())).toList());
        }
        return told.stream().findFirst();
    }

    /** Says how far the work is. */
    @PostMapping("/progress")
    OutsideAnswer progress(
            @AuthenticationPrincipal Caller caller, @PathVariable String job, @RequestBody ProgressBody body) {
        JobEntry entry = visible(caller, job);
        if (body.share() != null && !(body.share() >= 0 && body.share() <= 1)) {
            throw new InvalidException("share", body.share() + ": from 0 to 1 would be right");
        }
        Run run = underway(entry, Optional.ofNullable(body.run()), "")
                .orElseThrow(() -> Refusal.conflict("no run of " + job + " is under way; tell of its start first"));
        String text = body.text() == null ? "" : cut(body.text(), 200);
        progress.note(run.number(), new Progress(Optional.ofNullable(body.share()), text, Map.of()));
        return answer(run.number(), null);
    }

    /** Says that the work ended. Where nobody had told of its start, that is taken as told too. */
    @PostMapping("/end")
    OutsideAnswer end(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @RequestBody EndedBody body,
            @RequestHeader(name = "Idempotency-Key", required = false) String key) {
        JobEntry entry = visible(caller, job);
        check(body);
        Optional<Run> after = Optional.ofNullable(body.run())
                .flatMap(runs::find)
                .filter(run -> run.jobId() == entry.id() && run.state().isEnded());
        if (after.isPresent()) {
            return late(after.get(), body);
        }
        Optional<Tell> known = hash(key).isEmpty()
                ? Optional.empty()
                : tells.findFirstByJobIdAndTellKeyOrderByRunNumberDesc(entry.id(), hash(key));
        long number = known.map(Tell::run)
                .or(() -> underway(entry, Optional.ofNullable(body.run()), hash(key))
                        .map(Run::number))
                .orElseGet(() -> began(caller, entry, Optional.ofNullable(body.run()), Map.of(), hash(key)));
        Tell told = transaction.execute(status -> {
            Tell tell = tells.findById(number).orElseThrow();
            if (!tell.isOver()) {
                log(number, body.lines());
                tell.end(
                        Optional.ofNullable(body.exitCode()),
                        body.state() == null ? "" : body.state(),
                        body.message() == null ? "" : cut(body.message(), LONGEST_MESSAGE),
                        body.results() == null ? Map.of() : body.results(),
                        clock.instant());
            }
            return tell;
        });
        desk.over(told);
        return answer(number, null);
    }

    /** The run was given up, or its time was over: what is told now stands in its timeline. */
    private OutsideAnswer late(Run run, EndedBody body) {
        String how = body.exitCode() == null ? "" : " with exit code " + body.exitCode();
        String sentence = "told afterwards that it ended" + how
                + (body.message() == null || body.message().isBlank() ? "" : ": " + cut(body.message(), 300));
        ledger.remark(run.number(), sentence, clock.instant());
        return answer(run.number(), "the run had ended before: " + run.state().word());
    }

    private static void check(EndedBody body) {
        var problems = new ArrayList<Problem>();
        if (body.exitCode() == null && body.state() == null) {
            problems.add(Problem.of("exitCode", "is missing: the exit code, or 'state'"));
        }
        if (body.state() != null && !List.of("succeeded", "warned", "failed").contains(body.state())) {
            problems.add(Problem.of("state", "'" + body.state() + "': succeeded, warned or failed"));
        }
        if (body.results() != null) {
            // as it will be written down
            int all = JsonMapper.shared().writeValueAsString(body.results()).length();
            if (body.results().size() > MOST_RESULTS || all > LONGEST_RESULTS) {
                problems.add(Problem.of(
                        "results", "at most " + MOST_RESULTS + " of " + LONGEST_RESULTS + " characters together"));
            }
            if (body.results().values().stream().anyMatch(Objects::isNull)) {
                problems.add(Problem.of("results", "a result has a value"));
            }
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
    }

    private void log(long run, List<String> lines) {
        if (lines == null || lines.isEmpty()) {
            return;
        }
        Mask mask = Mask.of(runs.find(run).map(values::secrets).orElse(Map.of()));
        var text = new StringBuilder();
        lines.subList(Math.max(0, lines.size() - MOST_LINES), lines.size()).forEach(line -> text.append(
                        mask.over(cut(String.valueOf(line), LONGEST_LINE).replace('\n', ' ')))
                .append('\n'));
        RunFolder folder = RunFolder.of(settings.runsFolder(), run);
        try {
            Files.createDirectories(folder.log().getParent());
            Files.writeString(
                    folder.log(), text, StandardCharsets.UTF_8, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
        } catch (IOException e) {
            LOG.warn("the lines of run {} cannot be kept: {}", run, e.getMessage());
        }
    }

    private static String cut(String text, int most) {
        return text.length() <= most ? text : text.substring(0, most);
    }
}
