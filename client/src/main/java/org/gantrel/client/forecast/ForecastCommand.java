package org.gantrel.client.forecast;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** What will run when. */
@Command(
        name = "forecast",
        description = "Says what will run when, and when it will probably end.",
        footer = {
            "",
            "Examples:",
            "  gantrel forecast --hours 12 --team revenue",
            "  gantrel forecast --suppose lane.card-processor=2 --suppose duration.settle-tickets=20min",
            "  gantrel forecast --from 2026-12-24T00:00:00Z --hours 48 --format csv"
        })
public final class ForecastCommand extends ListCommand {

    private static final int MOST_HOURS = 400 * 24;

    @Option(names = "--from", paramLabel = "TIME", description = "From this time (now).")
    private String from;

    @Option(names = "--hours", paramLabel = "N", defaultValue = "24", description = "So many hours ahead (24).")
    private int hours;

    @Option(names = "--team", paramLabel = "TEAM", description = "Of one team alone.")
    private String team;

    @Option(names = "--job", paramLabel = "NAME", description = "Of one job alone.")
    private String job;

    @Option(
            names = "--suppose",
            paramLabel = "WHAT",
            description =
                    "Takes something for otherwise than it is, and saves nothing: lane.NAME=2, duration.JOB=45min,"
                            + " places=8, schedule.JOB/SCHEDULE='every day at 03:00'. As often as needed.")
    private List<String> suppose = List.of();

    private static String remarks(JsonNode row) {
        List<String> remarks = new ArrayList<>();
        if (row.path("skipped").asBoolean()) {
            String instead = row.path("waitsFor").asString("");
            remarks.add("will be skipped" + (instead.isEmpty() ? "" : ": it would wait for " + instead));
        }
        if (row.has("stuck")) {
            remarks.add(row.path("stuck").asString() + (row.has("deadline") ? "; misses its deadline" : ""));
        }
        if (row.has("late")) {
            remarks.add("misses its deadline by " + Times.duration(row, "late"));
        }
        if (row.has("waits")) {
            remarks.add("waits for " + row.path("waitsFor").asString());
        }
        return String.join("; ", remarks);
    }

    /** How far the forecast goes where it does not go to the end of what was asked for. */
    static List<String> limits(JsonNode forecast) {
        List<String> limits = new ArrayList<>();
        JsonNode starts = forecast.path("starts");
        if (forecast.path("cut").asBoolean()) {
            limits.add("more starts come after " + Times.local(starts.get(starts.size() - 1), "at")
                    + ": ask for fewer hours, a --team or a --job");
        }
        if (forecast.has("playedUntil")) {
            limits.add("who waits for whom is worked out until " + Times.local(forecast, "playedUntil")
                    + "; later starts are shown as if nothing were in their way");
        }
        return limits;
    }

    private static String names(JsonNode jobs) {
        List<String> names = new ArrayList<>();
        jobs.forEach(job -> names.add(job.asString()));
        return String.join(", ", names);
    }

    @Override
    public Integer call() {
        if (hours < 1 || hours > MOST_HOURS) {
            throw new Wrong("--hours: '" + hours + "': 1 to " + MOST_HOURS + " would be right");
        }
        Instant begin = from == null ? Instant.now() : Times.since(from);
        Map<String, Object> parameters = new LinkedHashMap<>();
        parameters.put("from", begin);
        parameters.put("until", begin.plusSeconds(hours * 3600L));
        parameters.put("team", team);
        parameters.put("job", job);
        StringBuilder path = new StringBuilder(Api.path("/api/v1/forecast", parameters));
        suppose.forEach(each -> path.append("&suppose=").append(Api.encode(each)));
        JsonNode forecast = api().get(path.toString());
        if (format == Format.json) {
            printer.json(forecast);
            return 0;
        }
        List<JsonNode> rows = new ArrayList<>();
        forecast.path("starts").forEach(rows::add);
        print(
                rows,
                List.of(
                        Column.time("PLANNED", "at"),
                        Column.time("STARTS", "begins"),
                        Column.time("ENDS", "ends"),
                        Column.duration("WAITS", "waits"),
                        Column.duration("USUALLY", "usual"),
                        Column.of("JOB", "job"),
                        Column.of("TEAM", "team"),
                        Column.of("SCHEDULE", "schedule"),
                        new Column("REMARKS", ForecastCommand::remarks, row -> row.path("waitsFor")
                                .asString(row.path("stuck").asString("")))),
                "nothing is planned in that time");
        limits(forecast).forEach(Printer::say);
        forecast.path("lanes").forEach(lane -> lane.path("crowded")
                .forEach(crowd -> Printer.say("lane " + lane.path("lane").asString()
                        + (lane.has("shut") ? " is " + lane.path("shut").asString() + "; from " : " is crowded from ")
                        + Times.local(crowd, "from") + " until " + Times.local(crowd, "until")
                        + ": " + names(crowd.path("jobs")) + " will wait for its "
                        + lane.path("width").asString() + " place"
                        + (lane.path("width").asInt() == 1 ? "" : "s"))));
        forecast.path("crowded")
                .forEach(crowd -> Printer.say("crowded from " + Times.local(crowd, "from") + " until "
                        + Times.local(crowd, "until") + ": "
                        + crowd.path("most").asString() + " runs at once for "
                        + crowd.path("places").asString() + " places"));
        return 0;
    }
}
