package org.gantrel.service.web;

import java.time.Clock;
import java.time.Instant;
import org.gantrel.service.time.Presence;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** Whether the service is there; the one call that needs nobody to be signed in. */
@RestController
class HealthApi {

    record Health(String status, Instant now, Instant upSince) {}

    private final Presence presence;
    private final Clock clock;

    HealthApi(Presence presence, Clock clock) {
        this.presence = presence;
        this.clock = clock;
    }

    @GetMapping("/api/v1/health")
    Health health() {
        return new Health("up", clock.instant(), presence.upSince());
    }
}
