package org.gantrel.client.run;

import java.util.HashMap;
import java.util.Map;
import org.gantrel.client.SortedList;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Lists runs. */
@Command(
        name = "list",
        description = "Lists runs, newest first.",
        footer = {
            "",
            "Examples:",
            "  gantrel run list --job settle-tickets --since 1d --state failed",
            "  gantrel run list --text \"card processor\" --format csv > failures.csv",
            "  gantrel run list --since 7d --sort -took --limit 10      the longest of the week"
        })
final class RunList extends SortedList {

    @Option(names = "--job", paramLabel = "NAME", description = "Only runs of this job.")
    private String job;

    @Option(names = "--team", paramLabel = "TEAM", description = "Only runs of this team's jobs.")
    private String team;

    @Option(names = "--state", paramLabel = "STATE", description = "Only in these states, divided by commas.")
    private String state;

    @Option(
            names = "--cause",
            paramLabel = "CAUSE",
            description = "Only started so: schedule, person, trigger, chain, sweep or repeat.")
    private String cause;

    @Option(names = "--starter", paramLabel = "PERSON", description = "Only started by this person.")
    private String starter;

    @Option(
            names = "--since",
            paramLabel = "TIME",
            description = "Planned since: 90m, 12h, 1d, a date, a local time or an instant.")
    private String since;

    @Option(names = "--until", paramLabel = "TIME", description = "Planned before.")
    private String until;

    @Option(names = "--text", paramLabel = "TEXT", description = "With these words in job, values or message.")
    private String text;

    @Override
    public Integer call() {
        Map<String, Object> parameters = new HashMap<>();
        parameters.put("job", job);
        parameters.put("team", team);
        parameters.put("state", state);
        parameters.put("cause", cause);
        parameters.put("starter", starter);
        parameters.put("since", since == null ? null : Times.since(since));
        parameters.put("until", until == null ? null : Times.since(until));
        parameters.put("q", text);
        parameters.put("sort", sort);
        return print(api().list("/api/v1/runs", parameters, limit), RunPrinter.columns(), "no run is like that");
    }
}
