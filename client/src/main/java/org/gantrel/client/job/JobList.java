package org.gantrel.client.job;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Lists jobs. */
@Command(name = "list", description = "Lists the jobs that you may see.")
final class JobList extends ListCommand {

    @Option(names = "--team", paramLabel = "TEAM", description = "Only jobs of this team.")
    private String team;

    @Option(names = "--text", paramLabel = "TEXT", description = "Only jobs whose name or purpose holds this text.")
    private String text;

    @Option(names = "--limit", paramLabel = "N", defaultValue = "500", description = "At most so many (500).")
    private int limit;

    @Override
    public Integer call() {
        Map<String, Object> parameters = new HashMap<>();
        parameters.put("team", team);
        parameters.put("q", text);
        return print(
                api().list("/api/v1/jobs", parameters, limit),
                List.of(
                        Column.of("NAME", "name"),
                        Column.of("TEAM", "team"),
                        Column.of("KIND", "kind"),
                        Column.time("NEXT", "next"),
                        new Column("LAST", row -> Times.local(row.path("last"), "plannedAt")),
                        new Column(
                                "STATE", row -> row.path("last").path("state").asString("")),
                        Column.duration("USUALLY", "usual"),
                        Column.of("ABOUT", "about")),
                "there is no such job; 'gantrel import FILE' brings some in");
    }
}
