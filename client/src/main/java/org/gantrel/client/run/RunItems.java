package org.gantrel.client.run;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.output.Column;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Lists the items of a run. */
@Command(name = "items", description = "Lists the named results inside a run: checks, test cases.")
final class RunItems extends ListCommand {

    private static final int MOST = 10_000;

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--state", paramLabel = "STATE", description = "Only those that ended so, such as failed.")
    private String state;

    @Override
    public Integer call() {
        Map<String, String> filter = new LinkedHashMap<>();
        filter.put("state", state);
        return print(
                api().list("/api/v1/runs/" + number + "/items", filter, MOST),
                List.of(
                        Column.of("STATE", "state"),
                        Column.of("ITEM", "name"),
                        Column.duration("TOOK", "took"),
                        Column.of("SEEN", "seen")),
                "run " + number + " has no items" + (state == null ? "" : " that are " + state));
    }
}
