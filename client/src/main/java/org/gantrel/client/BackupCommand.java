package org.gantrel.client;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import tools.jackson.databind.JsonNode;

/** The backups of the installation's own data. */
@Command(
        name = "backup",
        description = "Backups of the service's own database. For administrators.",
        subcommands = {BackupCommand.Listing.class, BackupCommand.Now.class})
final class BackupCommand extends NounCommand {

    private static final String PATH = "/api/v1/backups";

    @Command(
            name = "list",
            description = "Lists the backups that are there, the newest first.",
            footer = {"", "Example:", "  gantrel backup list"})
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            JsonNode found = api().get(PATH);
            List<JsonNode> rows = new ArrayList<>();
            found.path("backups").forEach(rows::add);
            String trouble = found.path("trouble").path("message").asString("");
            return print(
                    rows,
                    List.of(Column.of("NAME", "name"), Column.time("MADE", "at"), Column.of("BYTES", "bytes")),
                    found.path("folder").isMissingNode()
                            ? "no folder for backups is set; the setting backup-to says which"
                            : trouble.isEmpty() ? "no backup was made yet" : "no backup was made yet: " + trouble);
        }
    }

    @Command(
            name = "now",
            description = "Makes one now, and waits until it is there.",
            footer = {"", "Example:", "  gantrel backup now"})
    static final class Now extends ServiceCommand {

        @Override
        public Integer call() {
            JsonNode made = api().post(PATH, Map.of());
            Printer.say("made " + made.path("name").asString() + ", "
                    + made.path("bytes").asLong() + " bytes");
            return 0;
        }
    }
}
