package org.gantrel.client.starter;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Ready-made definitions. */
@Command(
        name = "starter",
        description = "Ready-made definitions with a few blanks to fill.",
        subcommands = {StarterCommand.Listing.class, StarterCommand.Use.class},
        footer = {
            "",
            "Examples:",
            "  gantrel starter list",
            "  gantrel starter use probe-an-address -b job=probe-booking-page -b team=harbour \\",
            "      -b address=http://booking.example.org/health -b contains=ok \\",
            "      -b mail=duty@lowmarsh.example.org > probe.yaml",
            "  gantrel import probe.yaml --dry-run"
        })
public final class StarterCommand extends NounCommand {

    @Command(name = "list", description = "Lists the starters with their blanks.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/starters").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("NAME", "name"),
                            new Column("BLANKS", StarterCommand::blanks),
                            Column.of("ABOUT", "about")),
                    "there are no starters");
        }
    }

    @Command(name = "use", description = "Prints a starter's definitions with its blanks filled; nothing is saved.")
    static final class Use extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The starter.")
        private String name;

        @Option(
                names = {"-b", "--blank"},
                paramLabel = "BLANK=VALUE",
                description = "A blank; as often as needed. Without any, says what is to be filled.")
        private Map<String, String> blanks = Map.of();

        @Override
        public Integer call() {
            JsonNode filled = api().post("/api/v1/starters/" + Api.encode(name), Map.of("blanks", blanks));
            printer.line(filled.path("definition").asString().stripTrailing());
            return 0;
        }
    }

    private static String blanks(JsonNode starter) {
        List<String> names = new ArrayList<>();
        starter.path("blanks").forEach(blank -> names.add(blank.path("name").asString()));
        return String.join(", ", names);
    }
}
