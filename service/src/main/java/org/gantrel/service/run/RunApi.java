package org.gantrel.service.run;

import java.net.URI;
import java.time.Clock;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.roster.Roster.AfterFailure;
import org.gantrel.core.roster.Roster.Manner;
import org.gantrel.core.run.RunState;
import org.gantrel.service.change.Changes;
import org.gantrel.service.durable.Durability;
import org.gantrel.service.http.Paging;
import org.gantrel.service.http.Texts;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
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
import org.springframework.web.bind.annotation.RestController;

/** Runs: found, looked at, started, stopped, repeated. */
@RestController
@RequestMapping("/api/v1")
class RunApi {

    private static final int LOOKS = 200;
    private static final long LOOK_MILLIS = 10;
    private static final String FIRST_PAGE = "9223372036854775807";

    /**
     * @param parameters values by name; numbers, dates and yes/no may come as JSON values or as text
     * @param skipGates whether the run is not to wait for its gates; who chose that stands with the run
     */
    record StartBody(Map<String, Object> parameters, OverBody over, Boolean skipGates) {}

    /** @param rows {@code all}, {@code failed}, or places such as {@code 1,4-7} */
    record OverBody(String roster, String rows, Integer atOnce, String afterFailure) {
        SweepRequest read() {
            String word = afterFailure == null ? "" : afterFailure;
            Optional<AfterFailure> after = Stream.of(AfterFailure.values())
                    .filter(each -> each.word().equals(word))
                    .findFirst();
            if (after.isEmpty() && !word.isEmpty()) {
                throw new InvalidException("over.afterFailure", "'" + word + "': carry-on or stop would be right");
            }
            if (atOnce != null && (atOnce < 1 || atOnce > Manner.MOST_AT_ONCE)) {
                throw new InvalidException(
                        "over.atOnce", atOnce + ": a number from 1 to " + Manner.MOST_AT_ONCE + " would be right");
            }
            // those of a run are named by the service alone, for one whose rows the caller may see
            if (rows != null && SweepRequest.ofRun(rows).isPresent()) {
                throw new InvalidException(
                        "over.rows", "'" + rows + "': all, failed, or places such as 1,4-7 would be right");
            }
            return new SweepRequest(
                    roster == null ? "" : roster,
                    rows == null ? SweepRequest.ALL : rows,
                    Optional.ofNullable(atOnce),
                    after);
        }
    }

    private final Runs runs;
    private final RunSearch search;
    private final RunAccess access;
    private final Starts starts;
    private final Ledger ledger;
    private final Wishes wishes;
    private final Durability durability;
    private final TransactionTemplate transaction;
    private final RunLogs logs;
    private final RunFacts facts;
    private final RunProgress progress;
    private final SweepShare sweeps;
    private final ChainSight chains;
    private final Teams teams;
    private final Changes changes;
    private final Clock clock;

    RunApi(
            Runs runs,
            RunSearch search,
            RunAccess access,
            Starts starts,
            Ledger ledger,
            Wishes wishes,
            Durability durability,
            TransactionTemplate transaction,
            RunLogs logs,
            RunFacts facts,
            RunProgress progress,
            SweepShare sweeps,
            ChainSight chains,
            Teams teams,
            Changes changes,
            Clock clock) {
        this.runs = runs;
        this.search = search;
        this.access = access;
        this.starts = starts;
        this.ledger = ledger;
        this.wishes = wishes;
        this.durability = durability;
        this.transaction = transaction;
        this.logs = logs;
        this.facts = facts;
        this.progress = progress;
        this.sweeps = sweeps;
        this.chains = chains;
        this.teams = teams;
        this.changes = changes;
        this.clock = clock;
    }

    @GetMapping("/runs")
    @Transactional(readOnly = true)
    ResponseEntity<List<RunView>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(required = false) String job,
            @RequestParam(required = false) String team,
            @RequestParam(required = false) String state,
            @RequestParam(required = false) String cause,
            @RequestParam(required = false) String starter,
            @RequestParam(required = false) String since,
            @RequestParam(required = false) String until,
            @RequestParam(required = false) String rows,
            @RequestParam(required = false) String q,
            @RequestParam(required = false) String sort,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = FIRST_PAGE) long after,
            @RequestParam Map<String, String> all) {
        RunFilter filter = RunFilter.of(all);
        filter.job().ifPresent(name -> access.requireJob(caller, name));
        int most = Paging.limit(limit) + 1;
        List<Run> found = RunSearch.COLUMNS
                .read(sort)
                .map(order -> search.find(caller, filter, order, after, most))
                .orElseGet(() -> search.find(caller, filter, after, most));
        Map<Long, String> names = teamNames();
        List<Run> underway =
                found.stream().filter(run -> run.state() == RunState.RUNNING).toList();
        Map<Long, RunProgress.Said> said = progress.of(
                underway.stream().filter(run -> !run.isSweep()).map(Run::number).toList());
        return Paging.page(
                found,
                limit,
                Run::number,
                run -> RunView.of(
                        run,
                        names.get(run.teamId()),
                        run.isSweep() && run.state() == RunState.RUNNING ? progressOf(run) : said.get(run.number())));
    }

    @PostMapping("/jobs/{name}/runs")
    ResponseEntity<RunView> start(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @RequestBody(required = false) StartBody body) {
        return created(starts.start(
                caller,
                name,
                Texts.of(body == null ? null : body.parameters()),
                Optional.ofNullable(body).map(StartBody::over).map(OverBody::read),
                body != null && Boolean.TRUE.equals(body.skipGates()),
                Optional.ofNullable(key)));
    }

    @GetMapping("/runs/{number}")
    @Transactional(readOnly = true)
    RunPage show(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        return page(caller, access.visible(caller, number));
    }

    /** Asks a run to stop. One that waits ends at once; one that has ended is left as it is. */
    @PostMapping("/runs/{number}/cancellation")
    RunPage cancel(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        transaction.executeWithoutResult(status -> {
            Run run = access.visible(caller, number, Deed.CANCEL_RUNS);
            if (run.state().isEnded()) {
                throw Refusal.conflict(
                        "run " + number + " has ended already: " + run.state().word());
            }
            if (!run.stop().isAsked()) {
                wishes.stop(number, caller.name(), clock.instant());
                changes.record(caller, "cancelled", "run", String.valueOf(number), access.team(run), run.jobName());
            }
        });
        durability.sync();
        await(number, run -> run.state().isEnded() || run.stop().isAsked());
        return transaction.execute(status -> page(caller, access.visible(caller, number)));
    }

    /** The engine does it as soon as it can; who asked is told how it went, where that is soon enough. */
    private void await(long number, Predicate<Run> done) {
        for (int i = 0; i < LOOKS; i++) {
            if (done.test(runs.find(number).orElseThrow())) {
                return;
            }
            try {
                Thread.sleep(LOOK_MILLIS);
            } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
                return;
            }
        }
    }

    /** Has the next try of a run come at once. */
    @PostMapping("/runs/{number}/next-try")
    RunPage tryNow(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        return want(caller, number, Wishes.Kind.TRY_NOW, "hurried");
    }

    /** Lets a run end with what its last try came to. */
    @DeleteMapping("/runs/{number}/next-try")
    RunPage giveUp(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        return want(caller, number, Wishes.Kind.GIVE_UP, "given up");
    }

    private RunPage want(Caller caller, long number, Wishes.Kind kind, String deed) {
        int before = transaction.execute(status -> {
            Run run = access.visible(caller, number, Deed.CANCEL_RUNS);
            if (run.again().isEmpty()) {
                throw Refusal.conflict("run " + number + " waits for no further try: it is "
                        + run.state().word());
            }
            wishes.want(number, kind, caller.name(), clock.instant());
            changes.record(caller, deed, "run", String.valueOf(number), access.team(run), run.jobName());
            return run.attempt();
        });
        durability.sync();
        await(
                number,
                run -> run.again().isEmpty()
                        || run.attempt() != before
                        || !run.again().get().at().isAfter(clock.instant()));
        return transaction.execute(status -> page(caller, access.visible(caller, number)));
    }

    /** Runs the same again, with the same values and the same planned time. */
    @PostMapping("/runs/{number}/repeats")
    ResponseEntity<RunView> repeat(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(defaultValue = "") String rows) {
        if (!rows.isEmpty() && !rows.equals(SweepRequest.FAILED)) {
            throw new InvalidException("rows", "'" + rows + "': failed, or nothing");
        }
        return created(rows.isEmpty() ? starts.repeat(caller, number) : starts.repeatFailed(caller, number));
    }

    /** Takes charge of a failure, so that others see that somebody does. */
    @PutMapping("/runs/{number}/charge")
    @Transactional
    RunPage takeCharge(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        access.visible(caller, number, Deed.CANCEL_RUNS);
        ledger.takeCharge(number, caller.name(), clock.instant());
        return page(caller, access.visible(caller, number));
    }

    @DeleteMapping("/runs/{number}/charge")
    @Transactional
    RunPage leave(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        access.visible(caller, number, Deed.CANCEL_RUNS);
        ledger.takeCharge(number, "", clock.instant());
        return page(caller, access.visible(caller, number));
    }

    private RunPage page(Caller caller, Run run) {
        String team = access.team(run);
        long[] items = runs.itemCounts(run);
        Optional<ChainSight.Seen> seen = run.isChain() ? Optional.of(chains.of(caller, run)) : Optional.empty();
        return new RunPage(
                RunView.of(run, team),
                RunSentence.of(run),
                run.planned().zone().getId(),
                runs.newerRevision(run).orElse(null),
                (run.isSweep() ? facts.usualOver(run.jobId()) : facts.usual(run.jobId())).orElse(null),
                run.stop().isAsked() && !run.state().isEnded(),
                runs.timeline(run).stream()
                        .map(moment -> new RunPage.Moment(moment.at(), moment.what()))
                        .toList(),
                attempts(run),
                progressOf(run),
                seen.map(ChainSight.Seen::steps).orElse(null),
                seen.map(RunPage.Course::of).orElse(null),
                runs.repeats(run),
                logs.size(run.number()),
                items[0],
                items[1],
                caller.deedsIn(team).stream().map(Deed::word).toList());
    }

    private RunProgress.Said progressOf(Run run) {
        return run.isSweep()
                ? sweeps.progress(run.number())
                        .map(all -> new RunProgress.Said(
                                all.share().orElse(null), all.text(), all.values(), clock.instant()))
                        .orElse(null)
                : progress.of(run.number()).orElse(null);
    }

    private List<AttemptRecord.View> attempts(Run run) {
        return run.attempt() == 1
                ? null
                : runs.attempts(run.number()).stream().map(AttemptRecord::view).toList();
    }

    private ResponseEntity<RunView> created(Run run) {
        return ResponseEntity.created(URI.create("/api/v1/runs/" + run.number()))
                .body(RunView.of(run, access.team(run)));
    }

    private Map<Long, String> teamNames() {
        Map<Long, String> names = new HashMap<>();
        for (Team team : teams.all()) {
            names.put(team.id(), team.name());
        }
        return names;
    }
}
