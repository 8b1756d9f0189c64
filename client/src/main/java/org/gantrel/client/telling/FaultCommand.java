package org.gantrel.client.telling;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.NewestFirst;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.ShowCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Failures that go on. */
@Command(
        name = "fault",
        description = "Faults: failures that go on, from the first bad end to the good one that closes it.",
        subcommands = {
            FaultCommand.Listing.class,
            FaultCommand.Show.class,
            FaultCommand.Take.class,
            FaultCommand.Leave.class,
            FaultCommand.Note.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel fault list                    what is wrong now",
            "  gantrel fault take 12                 you see to it: nobody is reminded of it any more",
            "  gantrel fault note 12 'the card processor is down until 06:00'"
        })
public final class FaultCommand extends NounCommand {

    private static final String PATH = "/api/v1/faults";

    @Command(name = "list", description = "Lists faults, newest first.")
    static final class Listing extends NewestFirst {

        @Option(names = "--all", description = "Also those that are over.")
        private boolean all;

        @Option(names = "--job", paramLabel = "JOB", description = "Those of one job.")
        private String job = "";

        @Override
        public Integer call() {
            Map<String, Object> asked = new LinkedHashMap<>();
            asked.put("open", !all);
            asked.put("job", job);
            return print(
                    api().list(PATH, asked, limit),
                    List.of(
                            Column.of("ID", "id"),
                            Column.of("JOB", "job"),
                            Column.of("TEAM", "team"),
                            Column.of("STATE", "state"),
                            Column.time("SINCE", "openedAt"),
                            Column.of("TIMES", "badEnds"),
                            Column.of("LAST RUN", "lastRun"),
                            Column.of("SEEN TO BY", "seenBy"),
                            Column.time("OVER", "closedAt"),
                            Column.of("WHAT", "message")),
                    all ? "there was no fault yet" : "nothing is wrong");
        }
    }

    @Command(name = "show", description = "Shows a fault: its runs, who was told, who sees to it, notes.")
    static final class Show extends ShowCommand {

        @Parameters(paramLabel = "ID", description = "The fault.")
        private long id;

        @Override
        protected String path() {
            return PATH + "/" + id;
        }

        @Override
        protected void show(JsonNode page) {
            JsonNode fault = page.path("fault");
            String seen = fault.path("seenBy").asString("");
            printer.line(printer.strong(fault.path("job").asString()) + "  "
                    + fault.path("state").asString() + ", "
                    + fault.path("badEnds").asString() + " in a row since " + Times.local(fault, "openedAt")
                    + (fault.has("closedAt") ? "; works again since " + Times.local(fault, "closedAt") : ""));
            printer.line("  " + fault.path("message").asString());
            printer.line("  " + (seen.isEmpty() ? "nobody sees to it" : seen + " sees to it"));
            section("runs", page.path("runs"), "number", "at", "state", "message");
            section("told", page.path("told"), "to", "at", "kind", "state");
            section("notes", page.path("notes"), "person", "at", "text", "");
        }

        private void section(String title, JsonNode rows, String who, String at, String what, String more) {
            if (!rows.isEmpty()) {
                printer.line("  " + title);
            }
            rows.forEach(row -> printer.line("    %-10s %s  %s  %s"
                    .formatted(
                            row.path(who).asString(),
                            Times.local(row, at),
                            row.path(what).asString(),
                            row.path(more).asString(""))
                    .stripTrailing()));
        }
    }

    @Command(name = "take", description = "Says that you see to a fault, so that nobody is reminded of it.")
    static final class Take extends ServiceCommand {

        @Parameters(paramLabel = "ID", description = "The fault.")
        private long id;

        @Override
        public Integer call() {
            JsonNode page = api().put(PATH + "/" + id + "/charge", Map.of());
            Printer.say("you see to " + page.path("fault").path("job").asString() + "; 'gantrel fault leave " + id
                    + "' takes that back");
            return 0;
        }
    }

    @Command(name = "leave", description = "Says that you do not see to a fault any more.")
    static final class Leave extends ServiceCommand {

        @Parameters(paramLabel = "ID", description = "The fault.")
        private long id;

        @Override
        public Integer call() {
            api().delete(PATH + "/" + id + "/charge");
            Printer.say("nobody sees to fault " + id + " now");
            return 0;
        }
    }

    @Command(name = "note", description = "Writes a note about a fault for the others.")
    static final class Note extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "ID", description = "The fault.")
        private long id;

        @Parameters(index = "1", paramLabel = "TEXT", description = "What they should know.")
        private String text;

        @Override
        public Integer call() {
            api().post(PATH + "/" + id + "/notes", Map.of("text", text));
            Printer.say("noted");
            return 0;
        }
    }
}
