package org.gantrel.service.web;

import java.time.Clock;
import java.time.Instant;
import org.gantrel.service.time.Presence;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** Whether the service works; the calls that need nobody to be signed in, and that tell nothing else. */
@RestController
class HealthApi {

    /**
     * How the service is.
     *
     * @param status {@code up}; {@code degraded} where something is set aside or the disk is full; {@code down} where the
     *     engine or the database does not work
     * @param engine whether what starts and ends runs works: {@code up}, {@code stuck} or {@code down}
     * @param database {@code up} or {@code down}
     * @param disk {@code up}, or {@code full} where no run can start for want of room
     * @param setAside how many things could not be dealt with
     */
    record Health(
            String status, Instant now, Instant upSince, String engine, String database, String disk, int setAside) {}

    private final Presence presence;
    private final Vitals vitals;
    private final Clock clock;

    HealthApi(Presence presence, Vitals vitals, Clock clock) {
        this.presence = presence;
        this.vitals = vitals;
        this.clock = clock;
    }

    /** Whether it lives and works: 200, or 503 where it is down. */
    @GetMapping("/api/v1/health")
    ResponseEntity<Health> health() {
        Health health = look();
        return ResponseEntity.status(health.status().equals("down") ? HttpStatus.SERVICE_UNAVAILABLE : HttpStatus.OK)
                .body(health);
    }

    /** Whether work can be given to it now: 200, or 503 where the engine, the database or the disk stands against it. */
    @GetMapping("/api/v1/health/ready")
    ResponseEntity<Health> ready() {
        Health health = look();
        boolean ready = !health.status().equals("down") && health.disk().equals("up");
        return ResponseEntity.status(ready ? HttpStatus.OK : HttpStatus.SERVICE_UNAVAILABLE)
                .body(health);
    }

    private Health look() {
        Vitals.Signs signs = vitals.look();
        String status = "up";
        if (!signs.engine().equals("up") || !signs.database().equals("up")) {
            status = "down";
        } else if (!signs.disk().equals("up") || signs.setAside() > 0) {
            status = "degraded";
        }
        return new Health(
                status,
                clock.instant(),
                presence.upSince(),
                signs.engine(),
                signs.database(),
                signs.disk(),
                signs.setAside());
    }
}
