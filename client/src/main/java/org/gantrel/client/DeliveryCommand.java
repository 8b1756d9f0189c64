package org.gantrel.client;

import java.util.List;
import java.util.Map;
import org.gantrel.client.output.Column;
import picocli.CommandLine.Command;

/** Mails about runs. */
@Command(name = "delivery", description = "Mails about failures.", subcommands = DeliveryCommand.Listing.class)
final class DeliveryCommand extends NounCommand {

    @Command(name = "list", description = "Lists mails and how far they have come, newest first.")
    static final class Listing extends NewestFirst {

        @Override
        public Integer call() {
            return print(
                    api().list("/api/v1/deliveries", Map.of(), limit),
                    List.of(
                            Column.of("RUN", "run"),
                            Column.of("STATE", "state"),
                            Column.of("ADDRESS", "address"),
                            Column.of("SUBJECT", "subject"),
                            Column.time("WRITTEN", "madeAt"),
                            Column.of("TRIES", "tries"),
                            Column.of("LAST ERROR", "lastError")),
                    "no mail was written yet");
        }
    }
}
