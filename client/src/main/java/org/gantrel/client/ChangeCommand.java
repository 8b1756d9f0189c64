package org.gantrel.client;

import java.util.List;
import java.util.Map;
import org.gantrel.client.output.Column;
import picocli.CommandLine.Command;

/** Who changed what. */
@Command(name = "change", description = "The audit record.", subcommands = ChangeCommand.Listing.class)
final class ChangeCommand extends NounCommand {

    @Command(name = "list", description = "Lists who changed what, newest first.")
    static final class Listing extends NewestFirst {

        @Override
        public Integer call() {
            return print(
                    api().list("/api/v1/changes", Map.of(), limit),
                    List.of(
                            Column.time("AT", "at"),
                            Column.of("PERSON", "person"),
                            Column.of("DID", "deed"),
                            Column.of("KIND", "kind"),
                            Column.of("NAME", "name"),
                            Column.of("TEAM", "team"),
                            Column.of("DETAIL", "detail")),
                    "nothing was changed yet");
        }
    }
}
