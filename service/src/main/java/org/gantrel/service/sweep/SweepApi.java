package org.gantrel.service.sweep;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.service.change.Changes;
import org.gantrel.service.http.Paging;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.roster.RosterRecord;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunAccess;
import org.gantrel.service.run.Runs;
import org.gantrel.service.sweep.SweepRow.Fate;
import org.gantrel.service.team.Caller;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The rows of sweeps, and what is remembered of handled records. */
@RestController
@Transactional
class SweepApi {

    /**
     * How far a sweep is.
     *
     * @param counts rows by what became of them: pending, started, succeeded, warned, failed, left-out, not-reached
     */
    record SweepView(
            String roster, int total, int atOnce, String afterFailure, boolean drawn, Map<String, Integer> counts) {}

    /** A row. @param waitsFor for what its run waits; missing unless it does */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record SweepRowView(
            int place, Map<String, String> values, String state, Long run, String message, String waitsFor) {}

    /** @param id the place in the list, for {@code after} */
    record HandledView(long id, String job, String key, Instant at, long run) {}

    record Forgotten(int records) {}

    private final Sweeps sweeps;
    private final Rosters rosters;
    private final RunAccess access;
    private final Runs runs;
    private final Jobs jobs;
    private final Changes changes;

    SweepApi(Sweeps sweeps, Rosters rosters, RunAccess access, Runs runs, Jobs jobs, Changes changes) {
        this.sweeps = sweeps;
        this.rosters = rosters;
        this.access = access;
        this.runs = runs;
        this.jobs = jobs;
        this.changes = changes;
    }

    @GetMapping("/api/v1/runs/{number}/sweep")
    SweepView show(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        SweepRecord sweep = sweep(caller, number);
        var counts = new LinkedHashMap<String, Integer>();
        sweeps.fates(number).forEach((fate, count) -> counts.put(fate.word(), count));
        return new SweepView(
                rosters.withId(sweep.rosterId()).name(),
                sweep.total(),
                sweep.atOnce(),
                sweep.afterFailure().word(),
                sweep.isDrawn(),
                counts);
    }

    @GetMapping("/api/v1/runs/{number}/rows")
    ResponseEntity<List<SweepRowView>> rows(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(required = false) String state,
            @RequestParam(defaultValue = "100") int limit,
            @RequestParam(defaultValue = "0") int after) {
        sweep(caller, number);
        List<SweepRow> page = sweeps.page(number, after, fate(state), Paging.limit(limit) + 1);
        Map<Long, String> waiting = waiting(page);
        return Paging.page(
                page,
                limit,
                SweepRow::place,
                row -> new SweepRowView(
                        row.place(),
                        row.values(),
                        row.state().word(),
                        row.runNumber().orElse(null),
                        row.message(),
                        row.runNumber().map(waiting::get).orElse(null)));
    }

    /** For what the runs of rows wait that have begun or are to begin: their gates, their next try. */
    private Map<Long, String> waiting(List<SweepRow> page) {
        List<Long> begun = page.stream()
                .filter(row -> row.state() == Fate.STARTED)
                .flatMap(row -> row.runNumber().stream())
                .toList();
        return runs.all(begun).stream()
                .filter(run -> run.state() == RunState.WAITING)
                .collect(Collectors.toMap(Run::number, Run::waitingFor));
    }

    @GetMapping("/api/v1/rosters/{name}/handled")
    ResponseEntity<List<HandledView>> handled(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestParam(defaultValue = "100") int limit,
            @RequestParam(defaultValue = "0") long after) {
        RosterRecord roster = roster(caller, name, Deed.SEE_JOBS);
        return Paging.page(
                sweeps.handled(roster.id(), after, Paging.limit(limit) + 1),
                limit,
                Handled::id,
                each -> new HandledView(
                        each.id(),
                        jobs.withId(each.jobId()).name(),
                        each.recordKey(),
                        each.handledAt(),
                        each.runNumber()));
    }

    /** Forgets that a record was handled, or with no key that any was. */
    @DeleteMapping("/api/v1/rosters/{name}/handled")
    Forgotten forget(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestParam(defaultValue = "") String key) {
        RosterRecord roster = roster(caller, name, Deed.DEFINE_JOBS);
        int count = sweeps.forget(roster.id(), key);
        changes.record(
                caller,
                "forgot",
                "roster",
                name,
                roster.team().name(),
                key.isEmpty() ? count + " handled records" : "the handled record " + key);
        return new Forgotten(count);
    }

    private SweepRecord sweep(Caller caller, long number) {
        Run run = access.visible(caller, number);
        if (!run.isSweep()) {
            throw Refusal.notFound("run " + number + " is no sweep");
        }
        return sweeps.of(number);
    }

    private RosterRecord roster(Caller caller, String name, Deed deed) {
        RosterRecord roster = rosters.named(name)
                .filter(found -> caller.may(Deed.SEE_JOBS, found.team().name()))
                .orElseThrow(() -> Refusal.notFound("there is no roster '" + name + "'"));
        caller.require(deed, roster.team().name());
        return roster;
    }

    private static Fate fate(String word) {
        if (word == null) {
            return null;
        }
        return Stream.of(Fate.values())
                .filter(fate -> fate.word().equals(word))
                .findFirst()
                .orElseThrow(() -> new InvalidException("state", "'" + word + "' is no state of a row"));
    }
}
