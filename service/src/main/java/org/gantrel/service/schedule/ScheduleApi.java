package org.gantrel.service.schedule;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.ZoneId;
import java.time.zone.ZoneRulesProvider;
import java.util.List;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import org.gantrel.service.job.ScheduleFacts.ScheduleView;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
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
class ScheduleApi {

    record Switch(boolean on) {}

    /** What an expression stands for. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Explanation(String expression, String kind, String phrase, String zone, List<Instant> occurrences) {}

    private final Schedules schedules;
    private final Clock clock;

    ScheduleApi(Schedules schedules, Clock clock) {
        this.schedules = schedules;
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

    @GetMapping("/when")
    Explanation explain(
            @RequestParam String expression,
            @RequestParam(defaultValue = "UTC") String zone,
            @RequestParam(defaultValue = "5") int count) {
        if (count < 1 || count > 100) {
            throw new InvalidException("count", count + ": 1 to 100 would be right");
        }
        try {
            ZoneId read = ZoneId.of(zone);
            Timetable timetable = When.parse(expression);
            List<Instant> next = timetable.next(clock.instant(), read, count);
            return new Explanation(expression, timetable.kind().word(), timetable.phrase(), zone, next);
        } catch (WhenException e) {
            throw new InvalidException("expression", e.sentence());
        } catch (DateTimeException e) {
            throw new InvalidException(
                    "zone",
                    "'" + zone + "' is no time zone" + Nearest.hint(zone, ZoneRulesProvider.getAvailableZoneIds()));
        }
    }
}
