package org.gantrel.service.metrics;

import io.micrometer.core.instrument.Gauge;
import io.micrometer.core.instrument.Timer;
import io.micrometer.prometheusmetrics.PrometheusConfig;
import io.micrometer.prometheusmetrics.PrometheusMeterRegistry;
import java.time.Duration;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.run.RunState;
import org.gantrel.service.aside.SetAside;
import org.gantrel.service.engine.Engine;
import org.gantrel.service.engine.EnginePulse;
import org.gantrel.service.journal.Event;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.journal.JournalReader;
import org.gantrel.service.run.Runs;
import org.gantrel.service.team.Caller;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * What the service measures of itself, in the Prometheus text format 0.0.4. It follows the journal; how many runs there
 * are is counted once and then kept in step with it.
 */
@RestController
class Metrics implements DisposableBean {

    private final PrometheusMeterRegistry registry = new PrometheusMeterRegistry(PrometheusConfig.DEFAULT);
    private final Timer lag = Timer.builder("gantrel.start.lag")
            .description("From the planned time of a scheduled run to its start")
            .publishPercentiles(0.5, 0.99)
            .register(registry);
    private final Runs runs;
    private final Map<RunState, Long> ended = new EnumMap<>(RunState.class);
    private final JournalReader reader;
    /** Up to where the journal is dealt with; below 0 before that is known. */
    private long read = -1;

    private boolean counted;

    Metrics(Runs runs, Engine engine, EnginePulse pulse, SetAside aside, Journal journal) {
        this.runs = runs;
        pulse.onStep(Timer.builder("gantrel.engine.step")
                .description("How long a step of the engine takes")
                .publishPercentiles(0.5, 0.99)
                .register(registry)::record);
        for (RunState state : RunState.values()) {
            Gauge.builder("gantrel.runs", this, all -> all.count(state))
                    .description("Runs by state")
                    .tag("state", state.word())
                    .register(registry);
        }
        Gauge.builder("gantrel.queue", runs, all -> all.count(RunState.WAITING))
                .description("Runs that wait to start")
                .register(registry);
        Gauge.builder("gantrel.commands", engine, Engine::running)
                .description("Commands under way")
                .register(registry);
        Gauge.builder("gantrel.set.aside", aside, all -> all.all().size())
                .description("Things that could not be dealt with and are set aside")
                .register(registry);
        this.reader = new JournalReader("metrics", journal, () -> begin(journal.complete()), events -> {
                    events.forEach(this::take);
                    return events.get(events.size() - 1).position();
                })
                .start();
    }

    private synchronized long begin(long position) {
        read = position;
        return position;
    }

    private synchronized double count(RunState state) {
        if (!state.isEnded()) {
            return runs.count(state);
        }
        if (!counted) {
            // what the journal has after the place where it is read is added once it is read
            ended.putAll(runs.countUpTo(read < 0 ? Long.MAX_VALUE : read));
            counted = read >= 0;
        }
        return ended.getOrDefault(state, 0L);
    }

    private void take(Event event) {
        if (!isNew(event)) {
            return;
        }
        switch (event.type()) {
            case "gantrel.history.thinned" -> recount();
            // a chain that is taken up again has not ended any more
            case "gantrel.run.changed" -> state(event, "was").ifPresent(was -> add(was, -1));
            case "gantrel.run.ended" -> state(event, "state").ifPresent(state -> ended(event, state));
            default -> {}
        }
    }

    /** A batch that went wrong midway comes again. */
    private synchronized boolean isNew(Event event) {
        boolean isNew = event.position() > read;
        read = Math.max(read, event.position());
        return isNew;
    }

    private void ended(Event event, RunState state) {
        add(state, 1);
        duration(event, "took").ifPresent(took -> Timer.builder("gantrel.run.duration")
                .description("How long runs took, by outcome")
                .tag("outcome", state.word())
                .publishPercentiles(0.5, 0.95)
                .register(registry)
                .record(took));
        duration(event, "lag").ifPresent(lag::record);
    }

    private synchronized void add(RunState state, long more) {
        if (counted) {
            ended.merge(state, more, Long::sum);
        }
    }

    private synchronized void recount() {
        counted = false;
        ended.clear();
    }

    private static Optional<RunState> state(Event event, String name) {
        return Optional.ofNullable(event.about().get(name)).flatMap(word -> RunState.of(String.valueOf(word)));
    }

    private static Optional<Duration> duration(Event event, String name) {
        return Optional.ofNullable(event.about().get(name)).map(text -> Duration.parse(String.valueOf(text)));
    }

    @GetMapping(path = "/metrics", produces = "text/plain; version=0.0.4; charset=utf-8")
    String metrics(@AuthenticationPrincipal Caller caller) {
        caller.require(Deed.SEE_METRICS);
        return registry.scrape();
    }

    @Override
    public void destroy() {
        reader.close();
    }
}
