package org.gantrel.client.run;

import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Visible;
import tools.jackson.databind.JsonNode;

/** A bar on a terminal's error stream that says how far a run is. Where nobody looks, or asked for no colour, there is none. */
final class ProgressBar implements AutoCloseable {

    private static final int CELLS = 24;
    private static final int LONGEST = 60;
    private static final long LOOK_EVERY_MILLIS = 1_000;

    private final ScheduledExecutorService looks;
    private boolean shown;

    ProgressBar(Api api, long number) {
        boolean terminal = System.console() != null && !"dumb".equals(System.getenv("TERM"));
        if (!terminal) {
            looks = null;
            return;
        }
        looks = Executors.newSingleThreadScheduledExecutor(task -> {
            var thread = new Thread(task, "progress");
            thread.setDaemon(true);
            return thread;
        });
        looks.scheduleWithFixedDelay(
                () -> look(api, number), LOOK_EVERY_MILLIS, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
    }

    private void look(Api api, long number) {
        try {
            JsonNode run = api.get("/api/v1/runs/" + number);
            String line = line(run);
            if (!line.isEmpty()) {
                show("\r\u001b[K" + line);
            }
        } catch (RuntimeException e) {
            // the wait itself says when the service does not answer
            return;
        }
    }

    /** What is shown of a run; empty where there is nothing to show. */
    static String line(JsonNode run) {
        JsonNode progress = run.path("progress");
        String waiting = run.path("waitingFor").asString("");
        if (progress.isMissingNode() || progress.isNull()) {
            return waiting.isEmpty() ? "" : cut("waits for " + waiting);
        }
        String text = cut(progress.path("text").asString(""));
        if (!progress.has("share") || progress.path("share").isNull()) {
            return text;
        }
        double share = progress.path("share").asDouble();
        int full = (int) Math.round(share * CELLS);
        return "[" + "#".repeat(full) + " ".repeat(CELLS - full) + "] " + Math.round(share * 100) + " %  " + text;
    }

    private static String cut(String text) {
        String visible = Visible.of(text);
        return visible.length() <= LONGEST ? visible : visible.substring(0, LONGEST - 3) + "...";
    }

    private synchronized void show(String text) {
        shown = true;
        System.err.print(text);
        System.err.flush();
    }

    /** Makes room for a line of something else. */
    synchronized void clear() {
        if (shown) {
            System.err.print("\r\u001b[K");
            System.err.flush();
        }
    }

    @Override
    public void close() {
        if (looks != null) {
            looks.shutdownNow();
            clear();
        }
    }
}
