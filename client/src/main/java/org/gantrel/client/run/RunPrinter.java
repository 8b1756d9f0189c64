package org.gantrel.client.run;

import java.io.IOException;
import java.util.List;
import java.util.Set;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import tools.jackson.databind.JsonNode;

/** Prints a run, and waits for its end. */
public final class RunPrinter {

    private static final Set<String> GOOD = Set.of("succeeded", "warned", "skipped");
    private static final Set<String> OPEN = Set.of("waiting", "running");

    private final Printer printer;

    public RunPrinter(Printer printer) {
        this.printer = printer;
    }

    /** The columns of a list of runs. */
    static List<Column> columns() {
        return List.of(
                Column.of("RUN", "number"),
                Column.of("JOB", "job"),
                Column.of("TEAM", "team"),
                Column.of("STATE", "state"),
                Column.time("PLANNED", "plannedAt"),
                Column.duration("TOOK", "took"),
                Column.of("CAUSE", "cause"),
                Column.of("BY", "causeRef"),
                new Column("MESSAGE", row -> row.path("message")
                        .asString(row.path("waitingFor").asString(""))));
    }

    /** Prints a run as a line, or as JSON. */
    public void print(JsonNode run, Format format) {
        if (format == Format.json) {
            printer.json(run);
        } else {
            printer.list(List.of(run), columns(), format, "");
        }
    }

    /** The exit code that a run's outcome makes: 0 well, 1 badly. */
    public static int exitCode(JsonNode run) {
        return GOOD.contains(run.path("state").asString()) ? 0 : 1;
    }

    /** Waits until a run has ended, also across a restart of the service, and returns it. */
    public static JsonNode await(Api api, long number, boolean showLog) throws IOException {
        long[] at = {0};
        JsonNode run = api.get("/api/v1/runs/" + number);
        while (OPEN.contains(run.path("state").asString())) {
            api.follow("/api/v1/runs/" + number + "/log/events?from=" + at[0], (name, data) -> {
                if (name.equals("lines")) {
                    at[0] = data.path("to").asLong();
                    if (showLog) {
                        System.err.print(data.path("text").asString());
                    }
                }
            });
            run = api.get("/api/v1/runs/" + number);
        }
        return run;
    }
}
