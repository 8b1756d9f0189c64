package org.gantrel.service.work;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.run.RosterSight;
import org.gantrel.service.run.Starts;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/** Rehearsals: what a run would do, with nothing done. They ask others, so that no transaction is held meanwhile. */
@RestController
class RehearsalApi {

    /**
     * @param at the planned time that values are worked out from; left out for now
     * @param look whether programs that can say their version are run for that
     * @param over the roster whose rows the job would run over; left out for a single run
     */
    record RehearsalBody(
            Map<String, Object> parameters, Instant at, String over, Boolean look, Map<String, String> suppose) {}

    /**
     * @param kind {@code does}, {@code fine}, {@code wrong}, or {@code untried} for what was not tried, and why
     * @param step the step of a chain that it belongs to, behind those of the chains around it and dots; or empty. Its
     *     first line is its {@code job}
     */
    record LineView(String kind, String step, String what, String text) {
        static LineView of(Sheet.Line line) {
            var found = line.found();
            return new LineView(found.kind().name().toLowerCase(Locale.ROOT), line.step(), found.what(), found.text());
        }
    }

    /**
     * @param fine whether nothing was found that would go wrong
     * @param course of a chain, its steps in the order in which they would end
     * @param ends of a chain, how and when it would end
     * @param complete whether all was tried; otherwise the lines {@code untried} say what was not
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record RehearsalView(
            String job,
            String actsAs,
            Instant plannedAt,
            String zone,
            Map<String, String> parameters,
            boolean fine,
            boolean complete,
            List<LineView> lines,
            List<CourseRehearsal.StepPlan> course,
            EndView ends) {}

    /** How a chain would end. */
    record EndView(String state, Instant at, String message) {}

    private final Starts starts;
    private final Rehearsals rehearsals;
    private final RosterSight rosters;
    private final Clock clock;

    RehearsalApi(Starts starts, Rehearsals rehearsals, RosterSight rosters, Clock clock) {
        this.rosters = rosters;
        this.starts = starts;
        this.rehearsals = rehearsals;
        this.clock = clock;
    }

    @PostMapping("/api/v1/jobs/{name}/rehearsal")
    RehearsalView rehearse(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestBody(required = false) RehearsalBody body) {
        JobEntry job = starts.startable(caller, name);
        var given = new LinkedHashMap<String, String>();
        if (body != null && body.parameters() != null) {
            body.parameters().forEach((key, value) -> given.put(key, String.valueOf(value)));
        }
        Optional<Instant> at = body == null ? Optional.empty() : Optional.ofNullable(body.at());
        Optional<String> over =
                Optional.ofNullable(body).map(RehearsalBody::over).filter(roster -> !roster.isEmpty());
        over.ifPresent(roster -> rosters.require(caller, roster));
        var rehearsal = rehearsals.of(
                job,
                given,
                over,
                at,
                clock.instant(),
                body != null && Boolean.TRUE.equals(body.look()),
                body == null || body.suppose() == null ? Map.of() : body.suppose());
        return new RehearsalView(
                name,
                rehearsal.actsAs(),
                rehearsal.planned().at(),
                rehearsal.planned().zone().getId(),
                rehearsal.values(),
                rehearsal.isFine(),
                rehearsal.isComplete(),
                rehearsal.lines().stream().map(LineView::of).toList(),
                rehearsal.course().map(CourseRehearsal::plan).orElse(null),
                rehearsal
                        .course()
                        .map(course -> new EndView(
                                course.ending().state().word(),
                                course.until(),
                                course.ending().message()))
                        .orElse(null));
    }
}
