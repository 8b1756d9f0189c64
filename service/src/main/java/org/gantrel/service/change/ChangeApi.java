package org.gantrel.service.change;

import java.util.List;
import org.gantrel.service.http.Paging;
import org.gantrel.service.team.Caller;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The audit record, newest first. */
@RestController
@RequestMapping("/api/v1/changes")
class ChangeApi {

    private final Changes changes;

    ChangeApi(Changes changes) {
        this.changes = changes;
    }

    @GetMapping
    ResponseEntity<List<ChangeView>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "") String person,
            @RequestParam(defaultValue = "") String kind,
            @RequestParam(defaultValue = "") String name,
            @RequestParam(defaultValue = "") String team,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = "9223372036854775807") long after) {
        List<ChangeRecord> found =
                changes.before(caller, new Changes.Filter(person, kind, name, team), after, Paging.limit(limit) + 1);
        return Paging.page(found, limit, ChangeRecord::id, ChangeRecord::view);
    }
}
