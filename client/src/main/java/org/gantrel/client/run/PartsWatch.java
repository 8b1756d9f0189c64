package org.gantrel.client.run;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import tools.jackson.databind.JsonNode;

/** Tells the steps of a chain, or the rows of a sweep, as they go. */
final class PartsWatch implements AutoCloseable {

    private static final long LOOK_EVERY_MILLIS = 700;
    /** Of more rows than this only the numbers are told. */
    private static final int MOST_ROWS = 200;

    private final Api api;
    private final long number;
    private final Runnable before;
    private final Map<String, String> told = new LinkedHashMap<>();
    private final ScheduledExecutorService looks;

    /** @param before makes room for a line */
    PartsWatch(Api api, long number, Runnable before) {
        this.api = api;
        this.number = number;
        this.before = before;
        looks = Executors.newSingleThreadScheduledExecutor(task -> {
            var thread = new Thread(task, "parts");
            thread.setDaemon(true);
            return thread;
        });
        looks.scheduleWithFixedDelay(this::lookQuietly, 0, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
    }

    private void lookQuietly() {
        try {
            look();
        } catch (RuntimeException e) {
            // the wait itself says when the service does not answer
            return;
        }
    }

    private synchronized void look() {
        JsonNode run = api.get("/api/v1/runs/" + number);
        run.path("steps").forEach(step -> {
            JsonNode child = step.path("run");
            tell(
                    "step " + step.path("step").asString(),
                    step.path("state").asString(),
                    child.has("number") ? "run " + child.path("number").asString() : "",
                    child.path("message").asString(""));
        });
        if (run.path("kind").asString().equals("sweep")) {
            rows();
        }
    }

    private void rows() {
        JsonNode sweep = api.get("/api/v1/runs/" + number + "/sweep");
        if (sweep.path("total").asInt() > MOST_ROWS) {
            var counts = new StringBuilder();
            sweep.path("counts").forEachEntry((state, count) -> counts.append(counts.isEmpty() ? "" : ", ")
                    .append(count.asString())
                    .append(' ')
                    .append(state));
            tell("rows", counts.toString(), "", "");
            return;
        }
        api.get("/api/v1/runs/" + number + "/rows?limit=" + MOST_ROWS)
                .forEach(row -> tell(
                        "row " + row.path("place").asString(),
                        row.path("state").asString(),
                        row.has("run") ? "run " + row.path("run").asString() : "",
                        row.path("message").asString("")));
    }

    /** Says how far a part is, where that is news; that one waits is none. */
    private void tell(String part, String state, String run, String message) {
        boolean waits = state.equals("waiting") || state.equals("pending");
        if (state.equals(told.put(part, state)) || waits) {
            return;
        }
        boolean ended = !state.equals("running") && !state.equals("started");
        before.run();
        Printer.say(part + " " + state.replace("started", "running") + (run.isEmpty() ? "" : "  [" + run + "]")
                + (ended && !message.isEmpty() ? ": " + message : ""));
    }

    /** Tells what came since the last look. */
    void tellRest() {
        lookQuietly();
    }

    @Override
    public void close() {
        looks.shutdownNow();
    }
}
