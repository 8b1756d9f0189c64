package org.gantrel.client.run;

import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.gantrel.client.api.Api;
import org.gantrel.client.api.Unreachable;
import org.gantrel.client.output.Printer;
import tools.jackson.databind.JsonNode;

/** Waits for the end of a run, also past a restart of the service: the run goes on meanwhile. */
public final class RunWait {

    private static final Set<String> OPEN = Set.of("waiting", "running");
    private static final Duration PATIENCE = Duration.ofMinutes(2);
    private static final long PAUSE_MILLIS = 500;

    private final Api api;
    private final long number;
    private final Consumer<String> log;
    private long seen;

    private RunWait(Api api, long number, Consumer<String> log) {
        this.api = api;
        this.number = number;
        this.log = log;
    }

    /** Waits, and returns the run as it ended. */
    public static JsonNode end(Api api, long number) throws IOException {
        return end(api, number, text -> {});
    }

    /**
     * The same, with its log piece by piece as it grows.
     *
     * @throws Unreachable where the service does not come back for two minutes
     */
    public static JsonNode end(Api api, long number, Consumer<String> log) throws IOException {
        try (var bar = new ProgressBar(api, number)) {
            return new RunWait(api, number, text -> {
                        bar.clear();
                        log.accept(text);
                    })
                    .end();
        }
    }

    /** The same; a chain tells its steps and a sweep its rows as they go. */
    public static JsonNode follow(Api api, long number, Consumer<String> log) throws IOException {
        if (api.get("/api/v1/runs/" + number).path("kind").asString().equals("task")) {
            return end(api, number, log);
        }
        try (var bar = new ProgressBar(api, number);
                var parts = new PartsWatch(api, number, bar::clear)) {
            JsonNode ended = new RunWait(api, number, text -> {
                        bar.clear();
                        log.accept(text);
                    })
                    .end();
            parts.tellRest();
            return ended;
        }
    }

    private JsonNode end() throws IOException {
        Instant lost = Instant.MAX;
        while (true) {
            try {
                // a run that has ended has a log to show, too
                api.follow("/api/v1/runs/" + number + "/log/events?from=" + seen, this::take);
                JsonNode run = api.get("/api/v1/runs/" + number);
                if (!OPEN.contains(run.path("state").asString())) {
                    return run;
                }
                lost = Instant.MAX;
            } catch (Unreachable | IOException e) {
                Instant now = Instant.now();
                if (lost.equals(Instant.MAX)) {
                    lost = now;
                    Printer.say("the service does not answer; run " + number + " is looked for again for "
                            + PATIENCE.toMinutes() + " minutes");
                }
                if (now.isAfter(lost.plus(PATIENCE))) {
                    throw e;
                }
                pause();
            }
        }
    }

    private void take(String event, JsonNode piece) {
        if (event.equals("try")) {
            // the next try has a log of its own
            seen = 0;
        } else if (event.equals("lines")) {
            seen = piece.path("to").asLong();
            log.accept(piece.path("text").asString());
        }
    }

    private static void pause() {
        try {
            TimeUnit.MILLISECONDS.sleep(PAUSE_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }
}
