package org.gantrel.service.retention;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.util.List;
import org.gantrel.core.access.Deed;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** How long history is kept, and what would go now. */
@RestController
@RequestMapping("/api/v1/retention")
class RetentionApi {

    /**
     * How long things are kept.
     *
     * @param runs where jobs and teams say nothing; missing for ever
     * @param going what would go now, by job
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record RetentionView(Duration runs, Duration logs, Duration events, Duration changes, List<GoingView> going) {}

    /** What of a job would go now. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record GoingView(String job, String team, Duration keepRuns, Duration keepLogs, long runs, long logs) {}

    private final Retentions retentions;
    private final Jobs jobs;
    private final Settings settings;

    RetentionApi(Retentions retentions, Jobs jobs, Settings settings) {
        this.retentions = retentions;
        this.jobs = jobs;
        this.settings = settings;
    }

    @GetMapping
    RetentionView show(@AuthenticationPrincipal Caller caller) {
        List<GoingView> going =
                retentions
                        .preview(jobs.allEver().stream()
                                .filter(job -> caller.may(Deed.SEE_RUNS, job.team()))
                                .toList())
                        .stream()
                        .map(each -> new GoingView(
                                each.job().name(),
                                each.job().team(),
                                each.keepRuns(),
                                each.keepLogs(),
                                each.runs(),
                                each.logs()))
                        .toList();
        Settings.Keep keep = settings.keep();
        return new RetentionView(
                keep.runs().runs().orElse(null),
                keep.runs().logs().orElse(null),
                keep.events(),
                keep.changes().orElse(null),
                going);
    }

    /** Lets go now of what would go with the next look. */
    @PostMapping("/now")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void now(@AuthenticationPrincipal Caller caller) {
        caller.require(Deed.RUN_INSTALLATION);
        retentions.thin();
    }
}
