package org.gantrel.service.metrics;

import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.Timer;
import io.micrometer.prometheusmetrics.PrometheusConfig;
import io.micrometer.prometheusmetrics.PrometheusMeterRegistry;
import java.time.Duration;
import org.gantrel.core.access.Deed;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.service.engine.Engine;
import org.gantrel.service.run.RunEnded;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.springframework.context.event.EventListener;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** What the service measures of itself, in the Prometheus text format 0.0.4. */
@RestController
class Metrics {

    private final PrometheusMeterRegistry registry = new PrometheusMeterRegistry(PrometheusConfig.DEFAULT);
    private final Timer lag = Timer.builder("gantrel.start.lag")
            .description("From the planned time of a scheduled run to its start")
            .publishPercentiles(0.5, 0.99)
            .register(registry);

    Metrics(Runs runs, Engine engine) {
        for (RunState state : RunState.values()) {
            Gauge.builder("gantrel.runs", runs, all -> all.countAll().getOrDefault(state, 0L))
                    .description("Runs by state")
                    .tag("state", state.word())
                    .register(registry);
        }
        Gauge.builder("gantrel.queue", runs, all -> all.waiting(1_000).size())
                .description("Runs that wait to start, up to a thousand")
                .register(registry);
        Gauge.builder("gantrel.commands", engine, Engine::running)
                .description("Commands under way")
                .register(registry);
    }

    @EventListener
    void follow(RunEnded ended) {
        RunRecord run = ended.run();
        run.took().ifPresent(took -> Timer.builder("gantrel.run.duration")
                .description("How long runs took, by outcome")
                .tag("outcome", run.state().word())
                .publishPercentiles(0.5, 0.95)
                .register(registry)
                .record(took));
        if (run.cause() == CauseKind.SCHEDULE) {
            run.startedAt()
                    .map(start -> Duration.between(run.plannedAt(), start))
                    .ifPresent(lag::record);
        }
    }

    @GetMapping(path = "/metrics", produces = "text/plain; version=0.0.4; charset=utf-8")
    String metrics(@AuthenticationPrincipal Caller caller) {
        caller.require(Deed.SEE_METRICS);
        return registry.scrape();
    }
}
