package org.gantrel.client.forecast;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Feeds of coming runs. */
@Command(
        name = "feed",
        description = "Addresses under which a calendar program finds coming runs (iCalendar).",
        subcommands = {FeedCommand.Create.class, FeedCommand.Listing.class, FeedCommand.Delete.class})
public final class FeedCommand extends NounCommand {

    @Command(name = "create", description = "Makes a feed and prints its address, this once.")
    static final class Create extends ServiceCommand {

        @Option(names = "--team", paramLabel = "TEAM", description = "Of one team alone.")
        private String team;

        @Option(names = "--job", paramLabel = "NAME", description = "Of one job alone.")
        private String job;

        @Override
        public Integer call() {
            Map<String, String> body = new LinkedHashMap<>();
            body.put("team", team);
            body.put("job", job);
            JsonNode feed = api().post("/api/v1/feeds", body);
            printer.line(api().url() + feed.path("address").asString());
            Printer.say("shown this once; whoever has it sees these coming runs");
            return 0;
        }
    }

    @Command(name = "list", description = "Lists your feeds.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/feeds").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("ID", "id"),
                            Column.of("TEAM", "team"),
                            Column.of("JOB", "job"),
                            Column.time("MADE", "madeAt")),
                    "you have no feed");
        }
    }

    @Command(name = "delete", description = "Makes the address of a feed worthless.")
    static final class Delete extends ServiceCommand {

        @Parameters(paramLabel = "ID", description = "The feed's id, as 'feed list' shows it.")
        private long id;

        @Override
        public Integer call() {
            api().delete("/api/v1/feeds/" + id);
            Printer.say("feed " + id + " is worth nothing any more");
            return 0;
        }
    }
}
