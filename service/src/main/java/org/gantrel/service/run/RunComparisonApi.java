package org.gantrel.service.run;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.run.Comparison;
import org.gantrel.core.run.Comparison.Beside;
import org.gantrel.core.run.Comparison.Fact;
import org.gantrel.core.run.Comparison.Kind;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.support.TransactionTemplate;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Two runs side by side: in what they differ, and by how much. */
@RestController
class RunComparisonApi {

    private static final int MOST_ITEMS = 500;

    /** @param kind {@code text}, {@code time}, {@code number}, {@code duration} or {@code bytes}, as its values are written */
    record FactView(String what, String kind, String one, String other, String by, boolean alike) {

        static FactView of(Beside row) {
            return new FactView(row.what(), row.kind().word(), row.one(), row.other(), row.by(), row.isAlike());
        }
    }

    /**
     * @param one the run that is compared with
     * @param other the run that was asked for; each difference says how much more it is than the one
     */
    record ComparisonView(RunView one, RunView other, List<FactView> facts) {}

    private record Known(RunView run, List<Fact> facts) {}

    private final RunAccess access;
    private final Runs runs;
    private final RunWaits waits;
    private final RunLogs logs;
    private final ChainSight chains;
    private final TransactionTemplate reading;
    private final Clock clock;

    RunComparisonApi(
            RunAccess access,
            Runs runs,
            RunWaits waits,
            RunLogs logs,
            ChainSight chains,
            TransactionTemplate reading,
            Clock clock) {
        this.access = access;
        this.runs = runs;
        this.waits = waits;
        this.logs = logs;
        this.chains = chains;
        this.reading = reading;
        this.clock = clock;
    }

    /**
     * Compares a run.
     *
     * @param with the run that it is compared with; of itself the latest of its job before it that ended well
     */
    @GetMapping("/api/v1/runs/{number}/comparison")
    ComparisonView compare(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(required = false) Long with)
            throws IOException {
        Known other = known(caller, number);
        long base = with != null ? with : reading.execute(status -> goodBefore(caller, number));
        Known one = known(caller, base);
        return new ComparisonView(
                one.run(),
                other.run(),
                Comparison.of(one.facts(), other.facts()).stream()
                        .filter(row -> !row.one().isEmpty() || !row.other().isEmpty())
                        .map(FactView::of)
                        .toList());
    }

    private long goodBefore(Caller caller, long number) {
        Run run = access.visible(caller, number);
        return runs.goodBefore(run)
                .orElseThrow(() -> Refusal.conflict("no run of " + run.jobName() + " before run " + number
                        + " ended well; name the one to compare it with"));
    }

    private Known known(Caller caller, long number) throws IOException {
        Known known = reading.execute(status -> {
            Run run = access.visible(caller, number);
            return new Known(RunView.of(run, access.team(run)), facts(caller, run));
        });
        Path folder = logs.outputs(number);
        RunFindingsApi.outputsIn(folder).forEach(output -> known.facts()
                .add(new Fact("output " + output.name(), Kind.BYTES, String.valueOf(output.bytes()))));
        return known;
    }

    private List<Fact> facts(Caller caller, Run run) {
        List<Fact> facts = new ArrayList<>();
        text(facts, "job", run.jobName());
        text(facts, "revision", String.valueOf(run.revision()));
        text(facts, "state", run.state().word());
        text(facts, "message", run.message());
        text(facts, "starter", run.starter());
        text(facts, "acts as", run.actsAs());
        text(facts, "exit code", run.exitCode().map(String::valueOf).orElse(""));
        facts.add(new Fact("tries", Kind.NUMBER, String.valueOf(run.attempt())));
        facts.add(new Fact("planned", Kind.TIME, run.plannedAt().toString()));
        run.startedAt().ifPresent(at -> facts.add(new Fact("started", Kind.TIME, at.toString())));
        waited(run).forEach((kind, took) -> facts.add(length("waited, " + kind, took)));
        run.took().ifPresent(took -> facts.add(length("took", took)));
        run.parameters().forEach((name, value) -> text(facts, "value " + name, value));
        run.results().forEach((name, value) -> facts.add(new Fact("gave " + name, Kind.NUMBER, value)));
        if (run.isChain()) {
            chains.of(caller, run).steps().forEach(step -> {
                text(facts, "step " + step.step(), step.state());
                if (step.from() != null && step.until() != null) {
                    facts.add(length("step " + step.step() + " took", Duration.between(step.from(), step.until())));
                }
            });
        }
        runs.items(run, 0, null, MOST_ITEMS)
                .forEach(item -> text(
                        facts,
                        "item " + item.name(),
                        item.state().word() + (item.seen().isEmpty() ? "" : ", " + item.seen())));
        return facts;
    }

    /** How long it waited, by the kinds of what it waited for, in the order in which they began. */
    private Map<String, Duration> waited(Run run) {
        Instant now = clock.instant();
        Map<String, Duration> waited = new LinkedHashMap<>();
        waits.of(run.number())
                .forEach(wait -> waited.merge(
                        wait.kind(), Duration.between(wait.since(), wait.until().orElse(now)), Duration::plus));
        return waited;
    }

    private static void text(List<Fact> facts, String what, String value) {
        facts.add(new Fact(what, Kind.TEXT, Optional.ofNullable(value).orElse("")));
    }

    private static Fact length(String what, Duration length) {
        return new Fact(what, Kind.DURATION, length.toString());
    }
}
