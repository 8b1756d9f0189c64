package org.gantrel.client;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** How long history is kept, and what would go now. */
@Command(
        name = "keep",
        description = "Shows how long history is kept and what would go now, or lets it go.",
        footer = {
            "",
            "How long is said by the settings keep-runs, keep-logs, keep-events and keep-changes, by a team",
            "('gantrel team keep'), or by a job's definition: keep: { runs: 400 days, logs: 90 days }.",
            "",
            "Examples:",
            "  gantrel keep --show",
            "  gantrel keep --now        lets go at once of what would go within a quarter of an hour"
        })
final class KeepCommand extends ListCommand {

    @Option(
            names = "--show",
            description = "Shows what would go; nothing is done. This is what happens without options.")
    private boolean show;

    @Option(names = "--now", description = "Lets go now of what would go; for administrators.")
    private boolean now;

    @Override
    public Integer call() {
        if (now && !show) {
            api().post("/api/v1/retention/now", Map.of());
            Printer.say("what was old enough is gone");
            return 0;
        }
        JsonNode retention = api().get("/api/v1/retention");
        if (format == Format.json) {
            printer.json(retention);
            return 0;
        }
        if (format == Format.table) {
            Printer.say("kept where jobs and teams say nothing: runs " + length(retention, "runs") + ", logs "
                    + length(retention, "logs") + ", events " + length(retention, "events") + ", changes "
                    + length(retention, "changes"));
        }
        List<JsonNode> rows = new ArrayList<>();
        retention.path("going").forEach(rows::add);
        return print(
                rows,
                List.of(
                        Column.of("JOB", "job"),
                        Column.of("TEAM", "team"),
                        Column.duration("KEEPS RUNS", "keepRuns"),
                        Column.of("RUNS TO GO", "runs"),
                        Column.duration("KEEPS LOGS", "keepLogs"),
                        Column.of("LOGS TO GO", "logs")),
                "nothing would go now");
    }

    private static String length(JsonNode retention, String field) {
        return retention.has(field) ? Times.duration(retention, field) : "for ever";
    }
}
