package org.gantrel.service.change;

import java.util.List;
import org.gantrel.service.http.Order;
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

    private static final Order.Columns<ChangeRecord> COLUMNS = new Order.Columns<>(ChangeRecord::id)
            .with("at", change -> change.view().at())
            .with("deed", change -> change.view().deed())
            .with("name", change -> change.view().kind() + " " + change.view().name())
            .with("person", change -> change.view().person())
            .with("team", change -> change.view().team());

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
            @RequestParam(defaultValue = "") String sort,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = "9223372036854775807") long after) {
        var filter = new Changes.Filter(person, kind, name, team);
        int most = Paging.limit(limit) + 1;
        List<ChangeRecord> found = COLUMNS.read(sort)
                .map(order -> {
                    List<ChangeRecord> all = changes.before(caller, filter, Long.MAX_VALUE, Order.MOST);
                    return Order.inOrder(order.page(all, after, most), all, ChangeRecord::id);
                })
                .orElseGet(() -> changes.before(caller, filter, after, most));
        return Paging.page(found, limit, ChangeRecord::id, ChangeRecord::view);
    }
}
