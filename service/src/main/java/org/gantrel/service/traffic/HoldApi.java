package org.gantrel.service.traffic;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.service.hold.Hold;
import org.gantrel.service.hold.Holds;
import org.gantrel.service.http.Paging;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.team.Caller;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Holds: work that is not to start for a while. */
@RestController
@RequestMapping("/api/v1/holds")
class HoldApi {

    /**
     * A hold.
     *
     * @param on {@code job}, {@code team}, {@code lane} or {@code service}
     * @param due what becomes of what comes due: {@code keep} or {@code skip}
     * @param running what becomes of what is under way when it begins: {@code finish} or {@code stop}
     * @param active whether it holds now
     * @param words the same in words
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record HoldView(
            long id,
            String on,
            String name,
            Instant from,
            Instant until,
            String due,
            String running,
            String why,
            String person,
            boolean active,
            Instant endedAt,
            String endedBy,
            String words) {}

    /** @param from now where it is missing @param until missing where somebody is to end it */
    record HoldBody(String on, String name, Instant from, Instant until, String due, String running, String why) {}

    private final Holds holds;
    private final Jobs jobs;
    private final Clock clock;

    HoldApi(Holds holds, Jobs jobs, Clock clock) {
        this.holds = holds;
        this.jobs = jobs;
        this.clock = clock;
    }

    /**
     * Those that hold or are planned, the latest first.
     *
     * @param ended those that are over too
     * @param after only those that were laid before this one
     * @param job only those that keep this job from starting, whatever they are laid on; the first laid first
     */
    @GetMapping
    ResponseEntity<List<HoldView>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "false") boolean ended,
            @RequestParam(defaultValue = "100") int limit,
            @RequestParam(defaultValue = "" + Long.MAX_VALUE) long after,
            @RequestParam(required = false) String job) {
        if (job != null) {
            JobEntry entry = jobs.visible(caller, job);
            return ResponseEntity.ok(
                    holds.of(entry, jobs.current(entry).rules().lanes().keySet()).stream()
                            .map(this::view)
                            .toList());
        }
        int most = Paging.limit(limit) + 1;
        List<Hold> found = ended
                ? holds.ever(caller, after, most)
                : holds.visible(caller).stream()
                        .filter(hold -> hold.id() < after)
                        .limit(most)
                        .toList();
        return Paging.page(found, limit, Hold::id, this::view);
    }

    @PostMapping
    ResponseEntity<HoldView> lay(@AuthenticationPrincipal Caller caller, @RequestBody HoldBody body) {
        caller.requireSomewhere(Deed.HOLD_WORK);
        var problems = new ArrayList<Problem>();
        Optional<Hold.Scope> scope = Hold.Scope.of(body.on() == null ? "" : body.on());
        String name = body.name() == null ? "" : body.name();
        if (scope.isEmpty()) {
            String given = body.on() == null ? "is missing: " : "'" + body.on() + "': ";
            problems.add(Problem.of("on", given + String.join(", ", Hold.Scope.words())));
        } else if (name.isEmpty() != (scope.get() == Hold.Scope.SERVICE)) {
            problems.add(Problem.of(
                    "name",
                    scope.get() == Hold.Scope.SERVICE ? "the service has none" : "which " + body.on() + " is missing"));
        }
        boolean skips = choice(body.due(), "due", "keep", "skip", problems);
        boolean stops = choice(body.running(), "running", "finish", "stop", problems);
        String why = body.why() == null ? "" : body.why().strip();
        Instant from = body.from() == null ? clock.instant() : body.from();
        problems.addAll(holds.problems(from, Optional.ofNullable(body.until()), why));
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        Hold keeping = Hold.wanted(scope.get(), name, from, Optional.ofNullable(body.until()), why, caller.name());
        Hold finishing = skips ? keeping.skipping() : keeping;
        Hold laid = holds.lay(caller, stops ? finishing.stopping() : finishing);
        return ResponseEntity.created(URI.create("/api/v1/holds/" + laid.id())).body(view(laid));
    }

    /** Whether the second of two words was chosen; the first is usual. */
    private static boolean choice(String word, String field, String usual, String other, List<Problem> problems) {
        if (word != null && !word.equals(usual) && !word.equals(other)) {
            problems.add(Problem.of(field, "'" + word + "': " + usual + " or " + other));
        }
        return other.equals(word);
    }

    /** Ends a hold; what was kept starts now. */
    @DeleteMapping("/{id}")
    HoldView end(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        return view(holds.end(caller, id));
    }

    private HoldView view(Hold hold) {
        return new HoldView(
                hold.id(),
                hold.scope().word(),
                hold.name().isEmpty() ? null : hold.name(),
                hold.from(),
                hold.until().orElse(null),
                hold.skips() ? "skip" : "keep",
                hold.stops() ? "stop" : "finish",
                hold.why(),
                hold.person(),
                hold.isOn(clock.instant()),
                hold.endedAt().orElse(null),
                hold.endedBy().isEmpty() ? null : hold.endedBy(),
                hold.words());
    }
}
