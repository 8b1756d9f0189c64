package org.gantrel.client.forecast;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
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
            "  gantrel forecast --from 2026-12-24T00:00:00Z --hours 48 --format csv"
        })
public final class ForecastCommand extends ListCommand {

    @Option(names = "--from", paramLabel = "TIME", description = "From this time (now).")
    private String from;

    @Option(names = "--hours", paramLabel = "N", defaultValue = "24", description = "So many hours ahead (24).")
    private int hours;

    @Option(names = "--team", paramLabel = "TEAM", description = "Of one team alone.")
    private String team;

    @Option(names = "--job", paramLabel = "NAME", description = "Of one job alone.")
    private String job;

    @Override
    public Integer call() {
        Instant begin = from == null ? Instant.now() : Times.since(from);
        Map<String, Object> parameters = new LinkedHashMap<>();
        parameters.put("from", begin);
        parameters.put("until", begin.plusSeconds(hours * 3600L));
        parameters.put("team", team);
        parameters.put("job", job);
        JsonNode forecast = api().get(Api.path("/api/v1/forecast", parameters));
        if (format == Format.json) {
            printer.json(forecast);
            return 0;
        }
        List<JsonNode> rows = new ArrayList<>();
        forecast.path("starts").forEach(rows::add);
        print(
                rows,
                List.of(
                        Column.time("STARTS", "at"),
                        Column.time("ENDS", "ends"),
                        Column.duration("USUALLY", "usual"),
                        Column.of("JOB", "job"),
                        Column.of("TEAM", "team"),
                        Column.of("SCHEDULE", "schedule")),
                "nothing is planned in that time");
        forecast.path("crowded")
                .forEach(crowd -> Printer.say("crowded from " + Times.local(crowd, "from") + " until "
                        + Times.local(crowd, "until") + ": "
                        + crowd.path("most").asString() + " runs at once for "
                        + crowd.path("places").asString() + " places"));
        return 0;
    }
}
