package org.gantrel.client.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import org.gantrel.client.roster.RosterCommand;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Lists the rows of a sweep. */
@Command(name = "rows", description = "Lists the rows of a run over a roster, with what became of each.")
final class RunRows extends ListCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(
            names = "--state",
            paramLabel = "STATE",
            description = "Only those that are so far, such as failed or pending.")
    private String state;

    @Option(names = "--limit", paramLabel = "N", description = "The first so many (100).")
    private int limit = 100;

    @Override
    public Integer call() {
        JsonNode sweep = api().get("/api/v1/runs/" + number + "/sweep");
        Map<String, String> filter = new LinkedHashMap<>();
        filter.put("state", state);
        Printer.say("run " + number + " over " + sweep.path("roster").asString() + ": "
                + sweep.path("total").asString() + " rows, " + RosterCommand.pairs(sweep.path("counts")));
        return print(
                api().list("/api/v1/runs/" + number + "/rows", filter, limit),
                List.of(
                        Column.of("ROW", "place"),
                        Column.of("STATE", "state"),
                        Column.of("RUN", "run"),
                        new Column("VALUES", row -> RosterCommand.pairs(row.path("values"))),
                        new Column(
                                "MESSAGE",
                                row -> row.has("waitsFor")
                                        ? "waits for " + row.path("waitsFor").asString()
                                        : row.path("message").asString(""))),
                "run " + number + " has no such rows");
    }
}
