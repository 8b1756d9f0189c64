package org.gantrel.service.traffic;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.run.Crowd;
import org.gantrel.core.run.RunState;
import org.gantrel.core.run.RunStatus.Again;
import org.gantrel.core.text.Words;
import org.gantrel.service.gate.GateLooks;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunAccess;
import org.gantrel.service.run.RunSentence;
import org.gantrel.service.run.RunWaits;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Answers why a run is there, and why it does not start. */
@RestController
@RequestMapping("/api/v1/runs/{number}/why")
class WhyApi {

    /**
     * The answer.
     *
     * @param exists why it is there, and how it stands, in words
     * @param waitsFor for what it waits now; of a sweep under way, for what its next row does
     * @param toStart what would have to happen for it to start; missing unless it waits
     * @param inTheWay the runs that hold what it waits for
     * @param keeps which revision of its job it keeps, where the job was changed since
     * @param waits all that it waited for, and how long for each
     * @param gates what its gates saw last
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Why(
            long run,
            String state,
            String exists,
            String waitsFor,
            String toStart,
            String keeps,
            List<InTheWay> inTheWay,
            List<Waited> waits,
            List<GateLooks.Kept> gates,
            String gatesSkipped) {}

    /** A run that holds what another waits for. Of one that the caller may not see only the count is told. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record InTheWay(Long run, String job, Instant since) {}

    /** @param kind {@code place}, {@code lane}, {@code overlap}, {@code gate}, {@code hold}, {@code retry} or {@code circle} */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Waited(String kind, String on, String what, Instant since, Instant until, Duration took) {}

    private final RunAccess access;
    private final Runs runs;
    private final RunWaits waits;
    private final GateLooks gates;
    private final Demands demands;
    private final RowWaits rowWaits;
    private final Lanes lanes;
    private final Clock clock;

    WhyApi(
            RunAccess access,
            Runs runs,
            RunWaits waits,
            GateLooks gates,
            Demands demands,
            RowWaits rowWaits,
            Lanes lanes,
            Clock clock) {
        this.access = access;
        this.runs = runs;
        this.waits = waits;
        this.gates = gates;
        this.demands = demands;
        this.rowWaits = rowWaits;
        this.lanes = lanes;
        this.clock = clock;
    }

    @GetMapping
    @Transactional(readOnly = true)
    Why why(@AuthenticationPrincipal Caller caller, @PathVariable long number) {
        Run run = access.visible(caller, number);
        Instant now = clock.instant();
        boolean waiting = run.state() == RunState.WAITING;
        Optional<RowWaits.Waiting> row = rowWaits.of(number).filter(wait -> run.state() == RunState.RUNNING);
        List<Waited> waited = waits.of(number).stream()
                .map(wait -> new Waited(
                        wait.kind(),
                        wait.on(),
                        wait.what(),
                        wait.since(),
                        wait.until().orElse(null),
                        Duration.between(wait.since(), wait.until().orElse(now))))
                .toList();
        Optional<Waited> open = row.map(wait -> new Waited(
                        wait.by().kind().word(),
                        wait.by().on(),
                        wait.by().text(),
                        wait.since(),
                        null,
                        Duration.between(wait.since(), now)))
                .or(() -> waited.stream().filter(wait -> wait.until() == null).findFirst());
        return new Why(
                number,
                run.state().word(),
                RunSentence.of(run),
                waiting && !run.waitingFor().isEmpty()
                        ? run.waitingFor()
                        : row.map(wait -> wait.by().text()).orElse(null),
                waiting || row.isPresent() ? toStart(run, open, now) : null,
                runs.newerRevision(run)
                        .map(newer -> "revision " + run.revision()
                                + " of its job, which has been changed since and is at " + newer)
                        .orElse(null),
                waiting || row.isPresent() ? inTheWay(caller, run, open) : List.of(),
                waited,
                gates.of(number),
                run.gatesSkipped().isEmpty() ? null : run.gatesSkipped());
    }

    private String toStart(Run run, Optional<Waited> open, Instant now) {
        Optional<Again> again = run.again();
        if (again.filter(next -> next.at().isAfter(now)).isPresent()) {
            return "its next try comes, in "
                    + Words.duration(Duration.between(now, again.get().at()))
                    + "; 'gantrel run try-now " + run.number() + "' has it come at once";
        }
        if (run.isAhead(now)) {
            return "its planned time comes, in " + Words.duration(Duration.between(now, run.plannedAt()));
        }
        if (open.isEmpty()) {
            return "nothing that is known; it should start within a moment";
        }
        return switch (open.get().kind()) {
            case "place" -> "one of the commands that are running ends";
            case "lane" -> lane(run, open.get().on());
            case "overlap" -> "the earlier run ends, or is cancelled";
            case "gate" -> "the gate holds at one of the next looks, or somebody starts the job without its gates";
            case "hold" ->
                "the hold ends, or somebody ends it: 'gantrel hold end "
                        + open.get().on() + "'";
            case "circle" -> "that run ends";
            default -> open.get().what();
        };
    }

    private String lane(Run run, String name) {
        Lanes.State lane = lanes.all().get(name);
        Map<String, Integer> taken = (run.isSweep() ? demands.ofRow(run) : demands.of(run)).lanes();
        int places = taken.getOrDefault(name, 1);
        if (lane == null) {
            return "the lane " + name + " is defined again";
        }
        if (!lane.isOpen()) {
            return "somebody opens the lane: 'gantrel lane open " + name + "'";
        }
        if (places > lane.width()) {
            return "the lane is widened to " + places + " places: 'gantrel lane widen " + name + " " + places + "'";
        }
        return Words.count(places, "place") + " in lane " + name
                + (places == 1 ? " comes free" : " come free")
                + ", and no run of a higher priority, or that was planned earlier, takes "
                + (places == 1 ? "it" : "them");
    }

    private List<InTheWay> inTheWay(Caller caller, Run run, Optional<Waited> open) {
        if (open.isEmpty()) {
            return List.of();
        }
        String on = open.get().on();
        var found = new ArrayList<InTheWay>();
        for (Run other : runs.underwayAll()) {
            boolean there =
                    switch (open.get().kind()) {
                        case "place" -> !other.isParent();
                        case "lane" -> demands.of(other).lanes().containsKey(on);
                        case "overlap" -> counts(other, run, on);
                        case "circle" -> String.valueOf(other.number()).equals(on);
                        default -> false;
                    };
            if (there && other.number() != run.number()) {
                boolean seen = caller.may(Deed.SEE_RUNS, access.team(other));
                found.add(new InTheWay(
                        seen ? other.number() : null,
                        seen ? other.jobName() : null,
                        other.startedAt().orElse(null)));
            }
        }
        return found;
    }

    /** Whether another counts together with a run, or with the rows of a sweep that wait. */
    private boolean counts(Run other, Run run, String on) {
        Crowd crowd = demands.of(other).crowd();
        return crowd.text().equals(on) || crowd.meets(demands.of(run).crowd());
    }
}
