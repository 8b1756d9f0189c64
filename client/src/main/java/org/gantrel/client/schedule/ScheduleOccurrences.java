package org.gantrel.client.schedule;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.NewestFirst;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** What became of a schedule's occurrences. */
@Command(name = "occurrences", description = "Lists what became of each time of a schedule, the newest first.")
final class ScheduleOccurrences extends NewestFirst {

    @Parameters(index = "0", paramLabel = "JOB", description = "The job.")
    private String job;

    @Parameters(index = "1", paramLabel = "SCHEDULE", description = "The name of its schedule.")
    private String schedule;

    @Override
    public Integer call() {
        String path = "/api/v1/jobs/" + Api.encode(job) + "/schedules/" + Api.encode(schedule) + "/occurrences";
        List<JsonNode> rows = new ArrayList<>();
        api().get(Api.path(path, Map.of("limit", limit))).forEach(rows::add);
        return print(
                rows,
                List.of(
                        Column.time("TIME", "at"),
                        Column.of("STATE", "state"),
                        Column.of("RUN", "run"),
                        Column.of("REASON", "reason")),
                "nothing has come due yet");
    }
}
