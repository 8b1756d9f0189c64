package org.gantrel.client.job;

import java.util.ArrayList;
import java.util.List;
import org.gantrel.client.ListCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Lists the revisions of a job. */
@Command(name = "revisions", description = "Lists who changed a job and when, newest first.")
final class JobRevisions extends ListCommand {

    @Parameters(paramLabel = "NAME", description = "The job.")
    private String name;

    @Override
    public Integer call() {
        List<JsonNode> rows = new ArrayList<>();
        api().get("/api/v1/jobs/" + Api.encode(name) + "/revisions").forEach(rows::add);
        return print(
                rows,
                List.of(Column.of("REVISION", "revision"), Column.of("MADE BY", "madeBy"), Column.time("AT", "madeAt")),
                "there is no revision");
    }
}
