package org.gantrel.client.schedule;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Schedules of jobs. */
@Command(
        name = "schedule",
        description = "When jobs start by themselves.",
        subcommands = {ScheduleCommand.Listing.class, ScheduleCommand.On.class, ScheduleCommand.Off.class})
public final class ScheduleCommand extends NounCommand {

    @Command(name = "list", description = "Lists every schedule with its switch and next time.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/schedules").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("JOB", "job"),
                            Column.of("SCHEDULE", "name"),
                            new Column("ON", row -> row.path("on").asBoolean() ? "on" : "off"),
                            Column.of("WHEN", "phrase"),
                            Column.of("ZONE", "zone"),
                            new Column(
                                    "NEXT (UTC)",
                                    row -> row.path("next").path(0).asString(""))),
                    "no job has a schedule yet");
        }
    }

    /** Switches a schedule. */
    abstract static class Switch extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "JOB", description = "The job.")
        private String job;

        @Parameters(index = "1", paramLabel = "SCHEDULE", description = "The name of its schedule.")
        private String schedule;

        abstract boolean on();

        @Override
        public Integer call() {
            JsonNode answer = api().put(
                            "/api/v1/jobs/" + Api.encode(job) + "/schedules/" + Api.encode(schedule) + "/switch",
                            Map.of("on", on()));
            Printer.say(job + " / " + schedule + " is "
                    + (on() ? "on; next " + answer.path("next").path(0).asString("never") : "off"));
            return 0;
        }
    }

    @Command(name = "on", description = "Switches a schedule on; it goes on from now.")
    static final class On extends Switch {
        @Override
        boolean on() {
            return true;
        }
    }

    @Command(name = "off", description = "Switches a schedule off without losing it.")
    static final class Off extends Switch {
        @Override
        boolean on() {
            return false;
        }
    }
}
