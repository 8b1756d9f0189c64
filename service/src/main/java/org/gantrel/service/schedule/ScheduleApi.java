package org.gantrel.service.schedule;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.util.List;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.schedule.Cautions;
import org.gantrel.core.schedule.Plan;
import org.gantrel.service.http.Paging;
import org.gantrel.service.job.ScheduleFacts.LastOccurrence;
import org.gantrel.service.job.ScheduleFacts.ScheduleView;
import org.gantrel.service.schedule.SchedulePreview.Keeping;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Schedules: listed, switched, and explained before they are saved. */
@RestController
@RequestMapping("/api/v1")
public class ScheduleApi {

    private static final int MOST_SWITCHED = 500;

    record Switch(boolean on) {}

    /** @param schedules those to switch, by job and name */
    record BulkSwitch(boolean on, List<Schedules.ScheduleName> schedules) {}

    /** What an expression stands for. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Explanation(
            String expression,
            String kind,
            String phrase,
            String zone,
            List<Instant> occurrences,
            List<PreviewedTime> details,
            List<String> cautions) {}

    /**
     * A coming start.
     *
     * @param local its local date and time
     * @param movedFrom the day that it was moved from, where a calendar moves it
     * @param note what summer time does on that day, where it does anything
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record PreviewedTime(Instant at, LocalDateTime local, LocalDate movedFrom, String note) {}

    private final Schedules schedules;
    private final SchedulePreview preview;
    private final ScheduleWhy why;
    private final Clock clock;

    ScheduleApi(Schedules schedules, SchedulePreview preview, ScheduleWhy why, Clock clock) {
        this.why = why;
        this.schedules = schedules;
        this.preview = preview;
        this.clock = clock;
    }

    @GetMapping("/schedules")
    List<ScheduleView> list(@AuthenticationPrincipal Caller caller) {
        return schedules.visibleTo(caller);
    }

    @PutMapping("/jobs/{job}/schedules/{schedule}/switch")
    ScheduleView switchTo(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @PathVariable String schedule,
            @RequestBody Switch body) {
        return schedules.switchTo(caller, job, schedule, body.on());
    }

    /** Switches many off or on at once, such as for maintenance; where one may not be switched, none is. */
    @PutMapping("/schedules/switch")
    @Transactional
    public List<ScheduleView> switchAll(@AuthenticationPrincipal Caller caller, @RequestBody BulkSwitch body) {
        if (body.schedules() == null
                || body.schedules().isEmpty()
                || body.schedules().size() > MOST_SWITCHED) {
            throw new InvalidException("schedules", "1 to " + MOST_SWITCHED + " schedules are expected");
        }
        if (body.schedules().stream().anyMatch(each -> each == null || each.job() == null || each.schedule() == null)) {
            throw new InvalidException("schedules", "each needs its job and its schedule");
        }
        return schedules.switchAll(caller, body.schedules(), body.on());
    }

    /** What became of the latest occurrences, the newest first. */
    @GetMapping("/jobs/{job}/schedules/{schedule}/occurrences")
    List<LastOccurrence> occurrences(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @PathVariable String schedule,
            @RequestParam(required = false) Instant before,
            @RequestParam(defaultValue = "50") int limit) {
        Instant until = before == null ? clock.instant().plusSeconds(60) : before;
        return schedules.occurrences(caller, job, schedule, until, Paging.limit(limit));
    }

    /**
     * Why a schedule started its job at a moment, or did not; any moment may be asked for.
     *
     * @param at an instant, or a local time of the schedule's zone such as {@code 2026-11-26T02:30}
     */
    @GetMapping("/jobs/{job}/schedules/{schedule}/why")
    ScheduleWhy.Answer why(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String job,
            @PathVariable String schedule,
            @RequestParam(defaultValue = "") String at) {
        return why.why(caller, job, schedule, at, clock.instant());
    }

    /**
     * Explains a way of saying when.
     *
     * @param job the job that it is meant for; its usual duration shows whether it comes too often
     */
    @GetMapping("/when")
    Explanation explain(
            @RequestParam String expression,
            @RequestParam(defaultValue = "UTC") String zone,
            @RequestParam(defaultValue = "5") int count,
            @RequestParam(required = false) Instant from,
            @RequestParam(defaultValue = "") String calendar,
            @RequestParam(defaultValue = "") String except,
            @RequestParam(defaultValue = "skip") String shift,
            @RequestParam(defaultValue = "") String job,
            @AuthenticationPrincipal Caller caller) {
        if (count < 1 || count > 100) {
            throw new InvalidException("count", count + ": 1 to 100 would be right");
        }
        Instant after = from == null ? clock.instant() : from;
        Plan plan = preview.plan(expression, zone, after, new Keeping(calendar, except, shift));
        // a rule without a start of its own begins with the instant itself
        Instant begin = preview.beginsItself(expression) ? after.minusSeconds(1) : after;
        List<Plan.Occurrence> coming = plan.nextStarts(begin, count);
        return new Explanation(
                expression,
                plan.timetable().kind().word(),
                plan.timetable().phrase(),
                plan.zone().getId(),
                coming.stream().map(Plan.Occurrence::at).toList(),
                coming.stream().map(start -> detail(start, plan.zone())).toList(),
                Cautions.of(plan, after, preview.usual(caller, job)));
    }

    private static PreviewedTime detail(Plan.Occurrence start, ZoneId zone) {
        return new PreviewedTime(
                start.at(),
                start.at().atZone(zone).toLocalDateTime(),
                start.movedFrom().orElse(null),
                Cautions.clockChange(start.at(), zone).orElse(null));
    }
}
