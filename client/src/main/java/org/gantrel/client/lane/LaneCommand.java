package org.gantrel.client.lane;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.ShowCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Places that jobs share. */
@Command(
        name = "lane",
        description = "Lanes: so many places that jobs of several teams share.",
        subcommands = {
            LaneCommand.Listing.class,
            LaneCommand.Show.class,
            LaneCommand.Widen.class,
            LaneCommand.Close.class,
            LaneCommand.Open.class,
            LaneCommand.Retire.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel lane show card-processor             who is in it, who waits, and since when",
            "  gantrel lane widen card-processor 3          until its definition is changed",
            "  gantrel lane close card-processor --why 'the bank has maintenance'"
        })
public final class LaneCommand extends NounCommand {

    private static final String PATH = "/api/v1/lanes/";

    @Command(name = "list", description = "Lists the lanes with how full they are.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/lanes").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("LANE", "name"),
                            Column.of("TEAM", "team"),
                            Column.of("WIDTH", "width"),
                            Column.of("TAKEN", "taken"),
                            Column.of("WAITING", "waiting"),
                            new Column("OPEN", LaneCommand::open),
                            Column.of("ABOUT", "about")),
                    "there is no lane yet; a definition that begins with 'lane: NAME' makes one");
        }
    }

    private static String open(JsonNode lane) {
        String by = lane.path("closedBy").asString("");
        String hold = lane.path("hold").asString("");
        if (by.isEmpty()) {
            return hold.isEmpty() ? "open" : "on hold";
        }
        String why = lane.path("closedWhy").asString("");
        return "closed by " + by + (why.isEmpty() ? "" : ": " + why);
    }

    @Command(name = "show", description = "Shows a lane: who is in it, who waits, and for how long.")
    static final class Show extends ShowCommand {

        @Parameters(paramLabel = "NAME", description = "The lane.")
        private String name;

        @Override
        protected String path() {
            return PATH + Api.encode(name);
        }

        @Override
        protected void show(JsonNode page) {
            JsonNode lane = page.path("lane");
            printer.line(printer.strong(name) + "  " + lane.path("taken").asString() + " of "
                    + lane.path("width").asString() + " taken, "
                    + lane.path("waiting").asString() + " waiting, "
                    + open(lane));
            if (lane.path("width").asInt() != lane.path("definedWidth").asInt()) {
                printer.line(
                        "  its definition gives it " + lane.path("definedWidth").asString());
            }
            tooNarrow(page).forEach(each -> printer.line("  " + each));
            section("in it", page.path("in"));
            section("waiting", page.path("queue"));
            int more = lane.path("waiting").asInt() - page.path("queue").size();
            if (more > 0) {
                printer.line("    … and " + more + " more");
            }
        }

        private void section(String title, JsonNode runs) {
            if (!runs.isEmpty()) {
                printer.line("  " + title);
            }
            runs.forEach(run -> printer.line("    %-8s %-24s %s  since %s  %s"
                    .formatted(
                            run.path("run").asString("-"),
                            run.path("job").asString("(another team's)"),
                            places(run.path("places").asInt()),
                            Times.local(run, "since"),
                            run.path("what").asString(""))));
        }
    }

    private static String places(int count) {
        return count == 1 ? "1 place" : count + " places";
    }

    /** The jobs that wait for as long as a lane is as narrow as it is. */
    private static List<String> tooNarrow(JsonNode page) {
        int width = page.path("lane").path("width").asInt();
        List<String> found = new ArrayList<>();
        page.path("jobs").forEach(job -> {
            if (job.path("places").asInt() > width) {
                found.add(job.path("job").asString()
                        + (job.has("step") ? ", its step " + job.path("step").asString() + "," : "")
                        + " takes "
                        + places(job.path("places").asInt()) + ", and waits until the lane is wider");
            }
        });
        return found;
    }

    @Command(name = "widen", description = "Gives a lane another width while things run, wider or narrower.")
    static final class Widen extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "NAME", description = "The lane.")
        private String name;

        @Parameters(index = "1", paramLabel = "PLACES", description = "How many places it has from now on.")
        private int width;

        @Override
        public Integer call() {
            JsonNode page = api().put(PATH + Api.encode(name) + "/width", Map.of("width", width));
            boolean asDefined = page.path("lane").path("definedWidth").asInt() == width;
            Printer.say("the lane " + name + " has " + places(width)
                    + (asDefined ? ", as its definition says" : " until its definition is changed"));
            tooNarrow(page).forEach(Printer::say);
            return 0;
        }
    }

    @Command(name = "close", description = "Lets nothing more begin in a lane; what is in it goes on.")
    static final class Close extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The lane.")
        private String name;

        @Option(names = "--why", paramLabel = "TEXT", description = "Why; who wonders is told it.")
        private String why = "";

        @Override
        public Integer call() {
            api().put(PATH + Api.encode(name) + "/closure", Map.of("why", why));
            Printer.say("the lane " + name + " is closed; 'gantrel lane open " + name + "' opens it");
            return 0;
        }
    }

    @Command(name = "open", description = "Opens a closed lane.")
    static final class Open extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The lane.")
        private String name;

        @Override
        public Integer call() {
            api().delete(PATH + Api.encode(name) + "/closure");
            Printer.say("the lane " + name + " is open");
            return 0;
        }
    }

    @Command(name = "retire", description = "Takes a lane out of use that no job needs.")
    static final class Retire extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The lane.")
        private String name;

        @Override
        public Integer call() {
            api().delete(PATH + Api.encode(name));
            Printer.say("the lane " + name + " is retired");
            return 0;
        }
    }
}
