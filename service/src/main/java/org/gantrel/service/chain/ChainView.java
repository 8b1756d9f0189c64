package org.gantrel.service.chain;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.chain.CriticalPath;
import org.gantrel.core.chain.StepNow.Place;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.run.CauseKind;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.job.RunFacts;
import org.gantrel.service.run.ChainSight;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunView;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Shows the run of a chain to those who may see it. */
@Component
class ChainView implements ChainSight {

    private final Runs runs;
    private final Jobs jobs;
    private final RunFacts facts;
    private final ChainSteps steps;
    private final Approvals approvals;

    ChainView(Runs runs, Jobs jobs, RunFacts facts, ChainSteps steps, Approvals approvals) {
        this.runs = runs;
        this.jobs = jobs;
        this.facts = facts;
        this.steps = steps;
        this.approvals = approvals;
    }

    @Override
    @Transactional
    public Seen of(Caller caller, Run chain) {
        if (!(runs.jobOf(chain) instanceof Job.Chain definition)) {
            return Seen.NOTHING;
        }
        return new Look(caller, chain, definition).seen();
    }

    /** One look at one chain. */
    private final class Look {
        private final Caller caller;
        private final Run chain;
        private final Job.Chain definition;
        private final ChainSteps.Of rows;
        private final Map<String, List<Run>> children;
        private final Map<Long, Run> byNumber = new HashMap<>();
        private final Map<String, CriticalPath.Span> spans = new HashMap<>();

        private Look(Caller caller, Run chain, Job.Chain definition) {
            this.caller = caller;
            this.chain = chain;
            this.definition = definition;
            this.rows = steps.of(chain.number()).readAll();
            var all = new ArrayList<>(runs.children(chain.number()));
            all.addAll(runs.all(definition.steps().stream()
                    .filter(Step::goesOn)
                    .flatMap(step -> rows.find(step.name()).flatMap(StepRecord::child).stream())
                    .toList()));
            all.forEach(run -> byNumber.put(run.number(), run));
            this.children = all.stream()
                    .filter(run -> run.cause() == CauseKind.CHAIN)
                    .collect(Collectors.groupingBy(Run::step));
            definition.steps().forEach(step -> rows.find(step.name())
                    .filter(row -> row.beganAt().isPresent() && row.place() != Place.PENDING)
                    .ifPresent(row -> spans.put(
                            step.name(),
                            new CriticalPath.Span(
                                    row.beganAt().get(), row.endedAt().orElse(Instant.MAX)))));
        }

        private Seen seen() {
            return new Seen(
                    definition.steps().stream().map(this::state).toList(),
                    steps.round(chain.number()),
                    chain.startedAt().isEmpty() ? List.of() : CriticalPath.of(definition.steps(), spans),
                    steps.held(chain.number()).orElse(null),
                    steps.interventions(chain.number()));
        }

        private StepState state(Step step) {
            Optional<StepRecord> row = rows.find(step.name()).filter(found -> found.place() != Place.PENDING);
            Optional<Run> child = row.flatMap(StepRecord::child).map(byNumber::get);
            List<Long> earlier = children.getOrDefault(step.name(), List.of()).stream()
                    .filter(this::isShown)
                    .map(Run::number)
                    .sorted()
                    .toList();
            return new StepState(
                    step.name(),
                    step.kind(),
                    some(step.job()),
                    some(step.over()),
                    step.after(),
                    step.links().isEmpty()
                            ? Step.FollowsOn.SUCCESS.word()
                            : step.links().get(0).on().word(),
                    step.links().stream()
                            .map(link -> new LinkView(link.after(), link.on().word(), some(link.when())))
                            .toList(),
                    step.linksInWords(),
                    some(step.when()),
                    step.doesInWords(),
                    step.last(),
                    step.matters(),
                    step.goesOn(),
                    stateWord(row, child),
                    some(message(step, row, child)),
                    row.flatMap(StepRecord::beganAt).orElse(null),
                    row.flatMap(StepRecord::endedAt).orElse(null),
                    row.flatMap(StepRecord::untilAt).orElse(null),
                    row.map(StepRecord::turn).orElse(0),
                    row.map(StepRecord::round).orElse(1),
                    row.map(StepRecord::person).filter(who -> !who.isEmpty()).orElse(null),
                    child.filter(this::isShown)
                            .map(run -> RunView.of(run, jobs.teamOf(run.jobId())))
                            .orElse(null),
                    earlier.size() > 1 ? earlier : null,
                    spans.containsKey(step.name())
                            ? CriticalPath.waitedFor(step, definition.steps(), spans)
                                    .orElse(null)
                            : null,
                    step.runs()
                            .flatMap(work -> jobs.named(work.job()))
                            .map(JobEntry::id)
                            .flatMap(job -> step.over().isEmpty() ? facts.usual(job) : facts.usualOver(job))
                            .orElse(null),
                    step.work() instanceof Step.Approval approval
                            && row.filter(StepRecord::isUnderWay).isPresent()
                            && approvals.mayDecide(caller, approval, chain));
        }

        /** What a step of another team did is for those who may see its runs. */
        private boolean isShown(Run run) {
            return caller.may(Deed.SEE_RUNS, jobs.teamOf(run.jobId()));
        }

        private String stateWord(Optional<StepRecord> row, Optional<Run> child) {
            if (row.isEmpty()) {
                return chain.state().isEnded() ? "out-of-reach" : "pending";
            }
            if (row.get().place() == Place.OUT_OF_REACH) {
                return "out-of-reach";
            }
            if (row.get().place() == Place.ENDED) {
                return row.get().state().word();
            }
            return child.filter(run -> !run.state().isEnded())
                    .map(run -> run.state().word())
                    .orElse(row.get().untilAt().isPresent() || child.isEmpty() ? "waiting" : "running");
        }

        private String message(Step step, Optional<StepRecord> row, Optional<Run> child) {
            if (row.isEmpty()) {
                return chain.state().isEnded() ? "the chain ended before its turn" : "";
            }
            if (!row.get().isUnderWay()) {
                boolean secret = child.isPresent() && !isShown(child.get());
                return secret ? "" : row.get().message();
            }
            if (step.work() instanceof Step.Approval) {
                return step.doesInWords()
                        + (row.get().message().isEmpty() ? "" : ": " + row.get().message());
            }
            boolean waitsItself =
                    row.get().child().isEmpty() || row.get().untilAt().isPresent();
            return waitsItself
                    ? row.get().message()
                    : child.filter(this::isShown).map(Run::waitingFor).orElse("");
        }
    }

    private static String some(String text) {
        return text.isEmpty() ? null : text;
    }
}
