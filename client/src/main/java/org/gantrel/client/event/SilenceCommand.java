package org.gantrel.client.event;

import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** What was expected and has not come. */
@Command(
        name = "silence",
        description = "Silences: what a job's 'expect' asks for and has not come.",
        subcommands = {SilenceCommand.Listing.class, SilenceCommand.Take.class, SilenceCommand.Leave.class},
        footer = {"", "Examples:", "  gantrel silence list", "  gantrel silence take 3      you see to it"})
public final class SilenceCommand extends NounCommand {

    private static final String PATH = "/api/v1/silences";

    @Command(name = "list", description = "Lists what is silent now.")
    static final class Listing extends ListCommand {
        @Override
        public Integer call() {
            return print(
                    api().get(PATH).valueStream().toList(),
                    List.of(
                            Column.of("ID", "id"),
                            Column.of("JOB", "job"),
                            Column.of("TEAM", "team"),
                            Column.of("EXPECTED", "what"),
                            Column.time("SINCE", "since"),
                            Column.of("SEEN TO BY", "seenBy"),
                            Column.of("WHAT", "message")),
                    "all that is expected has come");
        }
    }

    @Command(name = "take", description = "Says that you see to it.")
    static final class Take extends ServiceCommand {
        @Parameters(paramLabel = "ID", description = "The silence.")
        private long id;

        @Override
        public Integer call() {
            Printer.say("you see to "
                    + api().put(PATH + "/" + id + "/charge", Map.of())
                            .path("job")
                            .asString());
            return 0;
        }
    }

    @Command(name = "leave", description = "Says that you do not see to it any more.")
    static final class Leave extends ServiceCommand {
        @Parameters(paramLabel = "ID", description = "The silence.")
        private long id;

        @Override
        public Integer call() {
            api().delete(PATH + "/" + id + "/charge");
            Printer.say("nobody sees to silence " + id + " now");
            return 0;
        }
    }
}
