package org.gantrel.service.forecast;

import java.util.List;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Deadlines of the next day, and whether they will be kept. */
@RestController
@RequestMapping("/api/v1/deadlines")
class DeadlineApi {

    private final Deadlines deadlines;

    DeadlineApi(Deadlines deadlines) {
        this.deadlines = deadlines;
    }

    /** What needs somebody comes first. */
    @GetMapping
    List<Deadlines.Deadline> list(@AuthenticationPrincipal Caller caller) {
        return deadlines.visible(caller);
    }
}
