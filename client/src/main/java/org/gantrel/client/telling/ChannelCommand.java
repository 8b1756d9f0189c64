package org.gantrel.client.telling;

import java.util.Map;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Channels: ways by which messages reach other systems. */
@Command(
        name = "channel",
        description = "Channels: ways by which messages reach other systems.",
        subcommands = {
            TellingVerbs.Listing.class,
            TellingVerbs.Show.class,
            ChannelCommand.Test.class,
            TellingVerbs.Log.class,
            TellingVerbs.PutBack.class,
            TellingVerbs.Retire.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel channel test mail --to mara.holt@lowmarsh.example.org     sends a mail, and says what the server says",
            "  gantrel channel test desk"
        })
public final class ChannelCommand extends NounCommand {

    @Command(
            name = "test",
            description =
                    "Sends a test, and says in the other side's own words whether it was taken. 'mail' is always there.")
    static final class Test extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The channel, or mail.")
        private String name;

        @Option(names = "--to", paramLabel = "ADDRESS", description = "Where a mail goes (your own address).")
        private String to;

        @Override
        public Integer call() {
            JsonNode tried = api().post(
                            "/api/v1/channels/" + Api.encode(name) + "/test", to == null ? Map.of() : Map.of("to", to));
            boolean taken = tried.path("taken").asBoolean();
            Printer.say(
                    taken
                            ? "taken by " + tried.path("to").asString()
                            : "not taken by " + tried.path("to").asString() + ": "
                                    + tried.path("said").asString());
            return taken ? 0 : 1;
        }
    }
}
