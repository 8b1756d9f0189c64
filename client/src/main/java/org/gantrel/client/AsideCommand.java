package org.gantrel.client;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** What the service could not deal with, kept apart so that nothing else waits for it. */
@Command(
        name = "aside",
        description = "What the service could not deal with and set aside.",
        subcommands = {AsideCommand.Listing.class, AsideCommand.Retry.class})
final class AsideCommand extends NounCommand {

    @Command(
            name = "list",
            description = "Lists what is set aside, with the reason and what would mend it.",
            footer = {"", "Example:", "  gantrel aside list"})
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/set-aside").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("KIND", "kind"),
                            Column.of("ID", "id"),
                            Column.of("WHAT", "name"),
                            Column.of("TEAM", "team"),
                            Column.time("SINCE", "since"),
                            Column.of("TRIES", "tries"),
                            Column.time("NEXT TRY", "nextTry"),
                            Column.of("REASON", "reason"),
                            Column.of("HELP", "help")),
                    "nothing is set aside");
        }
    }

    @Command(
            name = "retry",
            description = "Tries a thing again at once.",
            footer = {"", "Example:", "  gantrel aside retry schedule 17"})
    static final class Retry extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "KIND", description = "Its kind, as 'gantrel aside list' says.")
        private String kind;

        @Parameters(index = "1", paramLabel = "ID", description = "Its number.")
        private long id;

        @Override
        public Integer call() {
            api().post("/api/v1/set-aside/" + Api.encode(kind) + "/" + id + "/retry", Map.of());
            Printer.say(kind + " " + id + " is tried again");
            return 0;
        }
    }
}
