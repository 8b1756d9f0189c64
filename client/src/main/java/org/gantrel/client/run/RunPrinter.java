package org.gantrel.client.run;

import java.util.List;
import java.util.Set;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import tools.jackson.databind.JsonNode;

/** Prints a run. */
public final class RunPrinter {

    private static final Set<String> GOOD = Set.of("succeeded", "warned", "skipped");

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
                new Column("MESSAGE", RunPrinter::message));
    }

    /** What is to be said of a run: how it ended, for what it waits, or how far it is. */
    private static String message(JsonNode run) {
        String said = run.path("message").asString(run.path("waitingFor").asString(""));
        JsonNode progress = run.path("progress");
        if (!said.isEmpty() || progress.isMissingNode()) {
            return said;
        }
        String text = progress.path("text").asString("");
        String share = progress.path("share").isNumber()
                ? Math.round(100 * progress.path("share").asDouble()) + " %"
                : "";
        return share.isEmpty() || text.isEmpty() ? share + text : share + ", " + text;
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
}
