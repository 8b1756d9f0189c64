package org.gantrel.service.traffic;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.net.URI;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Function;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.LaneDefinition;
import org.gantrel.core.lane.Fullness;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.http.EditTag;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.lane.LaneUse;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
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

/** Lanes: defined, widened, closed and opened, with who is in them and who waits. */
@RestController
@RequestMapping("/api/v1/lanes")
@Transactional
class LaneApi {

    private static final int MOST_NAMED = 5;
    private static final int MOST_SPANS = 20_000;
    private static final int MOST_SHOWN = 500;

    /**
     * A lane.
     *
     * @param width how many places it has now
     * @param definedWidth how many its definition gives it
     * @param taken how many are taken
     * @param waiting how many runs wait for places in it, and sweeps for their next rows
     * @param closedBy who closed it; missing while it is open
     * @param hold the hold on it, in words
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record LaneView(
            String name,
            String team,
            String about,
            List<String> forTeams,
            int revision,
            int width,
            int definedWidth,
            int taken,
            int waiting,
            String closedBy,
            String closedWhy,
            String hold) {}

    /** A run in a lane, or one that waits for places in it. Of a job that the caller may not see there is no more than that. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record InLane(Long run, String job, String team, int places, Instant since, String what) {}

    /**
     * One hour of a lane.
     *
     * @param share of the places that it had then, how many were taken
     * @param most how many were taken at once
     * @param width the most places that it had
     */
    record Hour(Instant at, double share, int most, int width) {}

    /**
     * A lane with all that belongs to it.
     *
     * @param in who is in it, the longest first
     * @param queue who waits, the longest first, and no more than 500; how many do is said of the lane
     * @param jobs the jobs that need it
     * @param hours how full it was, hour by hour
     */
    record LanePage(
            LaneView lane,
            List<InLane> in,
            List<InLane> queue,
            List<LaneUse.Needing> jobs,
            List<Hour> hours,
            String definition,
            List<String> mayDo) {}

    record LaneBody(String definition) {}

    record WidthBody(Integer width) {}

    record ClosureBody(String why) {}

    private final Lanes lanes;
    private final LaneUse use;
    private final Holds holds;
    private final Runs runs;
    private final Jobs jobs;
    private final LaneWaits waits;
    private final RowWaits rowWaits;
    private final Turn turn;
    private final Clock clock;

    LaneApi(
            Lanes lanes,
            LaneUse use,
            Holds holds,
            Runs runs,
            Jobs jobs,
            LaneWaits waits,
            RowWaits rowWaits,
            Turn turn,
            Clock clock) {
        this.lanes = lanes;
        this.use = use;
        this.holds = holds;
        this.runs = runs;
        this.jobs = jobs;
        this.waits = waits;
        this.rowWaits = rowWaits;
        this.turn = turn;
        this.clock = clock;
    }

    @GetMapping
    @Transactional(readOnly = true)
    List<LaneView> list(@AuthenticationPrincipal Caller caller) {
        List<Run> underway = waits.underway();
        Map<String, List<Long>> waiting = waits.now();
        return lanes.visible(caller).stream()
                .map(lane -> view(lane, underway, waiting))
                .toList();
    }

    /** @param days how far back its hours go */
    @GetMapping("/{name}")
    @Transactional(readOnly = true)
    ResponseEntity<LanePage> show(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestParam(defaultValue = "2") int days) {
        if (days < 1 || days > 14) {
            throw new InvalidException("days", days + ": 1 to 14 would be right");
        }
        return page(HttpStatus.OK, caller, lanes.visible(caller, name), days);
    }

    @PostMapping
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<LanePage> create(@AuthenticationPrincipal Caller caller, @RequestBody LaneBody body) {
        return turn.change(
                () -> created(caller, body),
                definition -> page(HttpStatus.CREATED, caller, lanes.save(caller, definition), 2));
    }

    private LaneDefinition created(Caller caller, LaneBody body) {
        caller.requireSomewhere(Deed.DEFINE_JOBS);
        LaneDefinition definition = read(caller, body);
        String name = definition.lane().name();
        if (lanes.currentText(name).isPresent()) {
            throw Refusal.conflict("there is a lane '" + name + "' already; change it with PUT");
        }
        return definition;
    }

    @PutMapping("/{name}")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<LanePage> change(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody LaneBody body) {
        return turn.change(
                () -> changed(caller, name, ifMatch, body),
                definition -> page(HttpStatus.OK, caller, lanes.save(caller, definition), 2));
    }

    private LaneDefinition changed(Caller caller, String name, String ifMatch, LaneBody body) {
        Lanes.State lane = lanes.visible(caller, name);
        caller.require(Deed.DEFINE_JOBS, lane.lane().team());
        new EditTag(lane.revision()).require(ifMatch, "lane " + name, () -> lanes.changedBy(name));
        LaneDefinition definition = read(caller, body);
        if (!definition.lane().name().equals(name)) {
            throw new InvalidException("lane", "a lane keeps its name, '" + name + "'");
        }
        return definition;
    }

    /** Gives a lane another width while things run; its next revision gives it that of the definition again. */
    @PutMapping("/{name}/width")
    ResponseEntity<LanePage> widen(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @RequestBody WidthBody body) {
        lanes.visible(caller, name);
        return page(HttpStatus.OK, caller, lanes.widen(caller, name, body.width() == null ? 0 : body.width()), 2);
    }

    /** Closes a lane: nothing more begins in it, and what is in it goes on to its end. */
    @PutMapping("/{name}/closure")
    ResponseEntity<LanePage> close(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @RequestBody ClosureBody body) {
        return page(HttpStatus.OK, caller, lanes.shut(caller, name, body.why() == null ? "" : body.why()), 2);
    }

    /** Opens a closed lane. */
    @DeleteMapping("/{name}/closure")
    ResponseEntity<LanePage> open(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        return page(HttpStatus.OK, caller, lanes.open(caller, name), 2);
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void retire(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        turn.perform(() -> {
            lanes.retire(caller, name);
            // with an error all of this is taken back
            refuseWhereNeeded(caller, name);
        });
    }

    /** What keeps to an earlier revision of its job may need a lane that no job needs any more. */
    private void refuseWhereNeeded(Caller caller, String lane) {
        List<Long> open = waits.needing(lane);
        if (open.isEmpty()) {
            return;
        }
        List<String> seen = runs.all(open.subList(0, Math.min(MOST_NAMED, open.size()))).stream()
                .filter(run -> caller.may(Deed.SEE_RUNS, jobs.teamOf(run.jobId())))
                .map(run -> run.number() + " of " + run.jobName())
                .toList();
        boolean one = open.size() == 1;
        throw Refusal.conflict(Words.count(open.size(), "run") + (one ? " that has" : " that have")
                + " not ended still " + (one ? "needs" : "need") + " the lane " + lane
                + (seen.isEmpty() ? "" : (seen.size() < open.size() ? ", such as " : ": ") + String.join(", ", seen))
                + "; cancel what is not wanted, or wait until it has ended");
    }

    private LaneDefinition read(Caller caller, LaneBody body) {
        LaneDefinition definition = DefinitionReader.readLane(body.definition() == null ? "" : body.definition());
        List<Problem> problems = lanes.problems(caller, definition, List.of());
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return definition;
    }

    private LaneView view(Lanes.State state, List<Run> underway, Map<String, List<Long>> waiting) {
        Lane lane = state.lane();
        return new LaneView(
                lane.name(),
                lane.team(),
                lane.about(),
                lane.forTeams(),
                state.revision(),
                state.width(),
                state.definedWidth(),
                underway.stream().mapToInt(run -> waits.places(run, lane)).sum(),
                waiting.getOrDefault(lane.name(), List.of()).size()
                        + rowWaits.inLane(lane.name()).size(),
                state.isOpen() ? null : state.shutBy(),
                state.shutWhy().isEmpty() ? null : state.shutWhy(),
                holds.on(clock.instant()).stream()
                        .filter(hold ->
                                hold.scope() == Hold.Scope.LANE && hold.name().equals(lane.name()))
                        .map(Hold::words)
                        .findFirst()
                        .orElse(null));
    }

    private ResponseEntity<LanePage> page(HttpStatus status, Caller caller, Lanes.State state, int days) {
        Lane lane = state.lane();
        List<Run> underway = waits.underway();
        Map<String, List<Long>> waiting = waits.now();
        List<Long> first = waiting.getOrDefault(lane.name(), List.of()).stream()
                .limit(MOST_SHOWN)
                .toList();
        var page = new LanePage(
                view(state, underway, waiting),
                inLane(caller, lane, underway, run -> run.startedAt().orElse(run.queuedAt())),
                queue(caller, lane, first),
                use.needing(lane.name()).stream()
                        .filter(job -> caller.may(Deed.SEE_JOBS, job.team()))
                        .toList(),
                hours(state, days),
                lanes.currentText(lane.name()).orElse(""),
                caller.deedsIn(lane.team()).stream().map(Deed::word).toList());
        return ResponseEntity.status(status)
                .location(URI.create("/api/v1/lanes/" + lane.name()))
                .eTag(new EditTag(state.revision()).toString())
                .body(page);
    }

    private List<InLane> queue(Caller caller, Lane lane, List<Long> waiting) {
        List<Run> sweeps = runs.all(rowWaits.inLane(lane.name()));
        return Stream.of(
                        inLane(caller, lane, runs.all(waiting), Run::queuedAt),
                        inLane(caller, lane, sweeps, run -> rowWaits.of(run.number())
                                .map(RowWaits.Waiting::since)
                                .orElse(run.queuedAt())))
                .flatMap(List::stream)
                .sorted(Comparator.comparing(InLane::since))
                .toList();
    }

    private List<InLane> inLane(Caller caller, Lane lane, List<Run> of, Function<Run, Instant> since) {
        return of.stream()
                .filter(run -> waits.places(run, lane) > 0)
                .sorted(Comparator.comparing(since))
                .map(run -> {
                    String team = jobs.teamOf(run.jobId());
                    boolean seen = caller.may(Deed.SEE_RUNS, team);
                    return new InLane(
                            seen ? run.number() : null,
                            seen ? run.jobName() : null,
                            seen ? team : null,
                            waits.places(run, lane),
                            since.apply(run),
                            seen ? what(run) : null);
                })
                .toList();
    }

    private String what(Run run) {
        return run.state() == RunState.WAITING
                ? run.waitingFor()
                : rowWaits.of(run.number())
                        .map(row -> row.by().text() + " (its next row)")
                        .orElse(null);
    }

    /** From the runs of the jobs that have needed it since, each with the places that it took by its own revision. */
    private List<Hour> hours(Lanes.State state, int days) {
        Instant now = clock.instant();
        Instant end = now.truncatedTo(ChronoUnit.HOURS).plus(1, ChronoUnit.HOURS);
        Instant begin = end.minus(Duration.ofDays(days));
        String lane = state.lane().name();
        LaneUse.Needed needed = use.needed(lane, begin);
        Map<Runs.Part, Integer> parts = new HashMap<>();
        var spans = new ArrayList<Fullness.Span>();
        for (Long job : needed.jobs()) {
            for (Runs.Span span : runs.spans(job, begin, MOST_SPANS)) {
                int places = span.part()
                        .filter(part -> needed.byChains())
                        .map(part -> parts.computeIfAbsent(part, one -> waits.places(span.run(), state.lane())))
                        .orElseGet(() ->
                                jobs.at(job, span.revision()).rules().lanes().getOrDefault(lane, 0));
                if (places > 0) {
                    spans.add(new Fullness.Span(span.from(), span.until().orElse(now), places));
                }
            }
        }
        List<Fullness.Hour> taken = Fullness.hours(spans, begin, days * 24);
        List<Fullness.Hour> widths = Fullness.hours(lanes.widths(state.id(), begin, end), begin, days * 24);
        return IntStream.range(0, taken.size())
                .mapToObj(i -> new Hour(
                        taken.get(i).at(),
                        share(taken.get(i).taken() / widths.get(i).taken()),
                        taken.get(i).most(),
                        widths.get(i).most()))
                .toList();
    }

    /** What was in it when it was made narrower stays in it. */
    private static double share(double taken) {
        return Math.round(100 * Math.min(1, taken)) / 100.0;
    }
}
