package org.gantrel.service.notification;

import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.service.http.Paging;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.data.domain.Limit;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The mails about runs, newest first. */
@RestController
@RequestMapping("/api/v1/deliveries")
class DeliveryApi {

    private final DeliveryStore store;
    private final Teams teams;

    DeliveryApi(DeliveryStore store, Teams teams) {
        this.store = store;
        this.teams = teams;
    }

    @GetMapping
    ResponseEntity<List<DeliveryView>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = "9223372036854775807") long after) {
        Map<Long, String> names =
                caller.among(teams.all(), Deed.SEE_DELIVERIES).stream().collect(Collectors.toMap(Team::id, Team::name));
        List<DeliveryRecord> found = store.before(after, names.keySet(), Limit.of(Paging.limit(limit) + 1));
        return Paging.page(found, limit, DeliveryRecord::id, delivery -> delivery.view(names.get(delivery.teamId())));
    }
}
