package org.gantrel.client;

import java.util.List;
import java.util.Map;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Messages about runs. */
@Command(
        name = "delivery",
        description = "Messages about runs, and how far they have come.",
        subcommands = {
            DeliveryCommand.Listing.class,
            DeliveryCommand.Show.class,
            DeliveryCommand.Again.class,
            DeliveryCommand.GiveUp.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel delivery list --state waiting",
            "  gantrel delivery again 4711              sends it again, from the first try on"
        })
final class DeliveryCommand extends NounCommand {

    private static final String PATH = "/api/v1/deliveries";

    @Command(name = "list", description = "Lists messages and how far they have come, newest first.")
    static final class Listing extends SortedList {

        @Option(names = "--state", paramLabel = "STATE", description = "waiting, sent, failed or gathered.")
        private String state = "";

        @Override
        public Integer call() {
            return print(
                    api().list(PATH, Map.of("state", state, "sort", sort == null ? "" : sort), limit),
                    List.of(
                            Column.of("ID", "id"),
                            Column.of("RUN", "run"),
                            Column.of("STATE", "state"),
                            Column.of("BY", "channel"),
                            Column.of("ADDRESS", "address"),
                            Column.of("SUBJECT", "subject"),
                            Column.time("WRITTEN", "madeAt"),
                            Column.time("NEXT TRY", "nextTryAt"),
                            Column.of("TRIES", "tries"),
                            Column.of("LAST ERROR", "lastError")),
                    state.isEmpty() ? "no message was written yet" : "no message is " + state);
        }
    }

    @Command(name = "show", description = "Shows a message as it goes out.")
    static final class Show extends ShowCommand {

        @Parameters(paramLabel = "ID", description = "The message.")
        private long id;

        @Override
        protected String path() {
            return PATH + "/" + id;
        }

        @Override
        protected void show(JsonNode page) {
            JsonNode delivery = page.path("delivery");
            printer.line("To:      " + delivery.path("address").asString());
            printer.line("Subject: " + delivery.path("subject").asString());
            printer.line("State:   " + delivery.path("state").asString());
            if (delivery.has("event")) {
                printer.line("Event:   " + delivery.path("event").asLong()
                        + "  ('gantrel event lineage' says what else came of it)");
            }
            printer.line("");
            printer.line(page.path("body").asString().stripTrailing());
        }
    }

    @Command(name = "again", description = "Sends a message again, or one that waits at once.")
    static final class Again extends ServiceCommand {

        @Parameters(paramLabel = "ID", description = "The message.")
        private long id;

        @Override
        public Integer call() {
            api().post(PATH + "/" + id + "/again", Map.of());
            Printer.say("message " + id + " goes out now");
            return 0;
        }
    }

    @Command(name = "give-up", description = "Gives a message up that waits.")
    static final class GiveUp extends ServiceCommand {

        @Parameters(paramLabel = "ID", description = "The message.")
        private long id;

        @Override
        public Integer call() {
            api().post(PATH + "/" + id + "/give-up", Map.of());
            Printer.say("message " + id + " is given up");
            return 0;
        }
    }
}
