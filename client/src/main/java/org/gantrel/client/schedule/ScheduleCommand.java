package org.gantrel.client.schedule;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Schedules of jobs. */
@Command(
        name = "schedule",
        description = "When jobs start by themselves.",
        subcommands = {
            ScheduleCommand.Listing.class,
            ScheduleCommand.On.class,
            ScheduleCommand.Off.class,
            ScheduleCommand.Remove.class,
            ScheduleOccurrences.class,
            ScheduleCommand.Why.class
        })
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
                            new Column("DAYS", ScheduleCommand::days),
                            new Column(
                                    "LAST",
                                    row -> row.path("last").path("state").asString("")),
                            new Column(
                                    "NEXT (UTC)",
                                    row -> row.path("next").path(0).asString(""))),
                    "no job has a schedule yet");
        }
    }

    @Command(
            name = "why",
            description = "Says why a schedule started its job at a moment, or did not. Any moment may be asked for.",
            footer = {"", "Example:", "  gantrel schedule why settle-tickets nightly --at 2026-11-25T02:30"})
    static final class Why extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "JOB", description = "The job.")
        private String job;

        @Parameters(index = "1", paramLabel = "SCHEDULE", description = "The name of its schedule.")
        private String schedule;

        @Option(
                names = "--at",
                paramLabel = "TIME",
                required = true,
                description =
                        "The moment: a local time of the schedule's zone such as 2026-11-25T02:30, one of another zone such"
                                + " as '2026-11-25 00:30 UTC', or an instant.")
        private String at;

        @Option(
                names = "--format",
                paramLabel = "FORMAT",
                defaultValue = "table",
                description = "table or json (table).")
        private Format format;

        @Override
        public Integer call() {
            JsonNode why = api().get(Api.path(
                    "/api/v1/jobs/" + Api.encode(job) + "/schedules/" + Api.encode(schedule) + "/why",
                    Map.of(
                            "at",
                            Times.isLocal(at) ? at.strip() : Times.since(at).toString())));
            if (format == Format.json) {
                printer.json(why);
                return 0;
            }
            printer.line(why.path("sentence").asString());
            line("occurrence before", told(why, "before"));
            line("next occurrence", told(why, "next"));
            if (why.has("run")) {
                line("more", "gantrel run why " + why.path("run").asString());
            }
            return 0;
        }

        private static String told(JsonNode why, String field) {
            return why.has(field) ? Times.in(why, field, why.path("zone").asString()) : "";
        }

        private void line(String title, String text) {
            if (!text.isEmpty()) {
                printer.line("  %-18s %s".formatted(title, text));
            }
        }
    }

    /** Switches a schedule. */
    abstract static class Switch extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "JOB", arity = "0..1", description = "The job.")
        private String job;

        @Parameters(index = "1", paramLabel = "SCHEDULE", arity = "0..1", description = "The name of its schedule.")
        private String schedule;

        @Option(
                names = "--team",
                paramLabel = "TEAM",
                description = "All schedules of a team, such as for maintenance.")
        private String team;

        @Option(names = "--all", description = "All schedules that you may switch.")
        private boolean all;

        @Option(
                names = "--even-off",
                description = "With 'on', those too that were off before the others were switched off together.")
        private boolean evenOff;

        abstract boolean on();

        @Override
        public Integer call() {
            List<Map<String, String>> chosen = chosen();
            if (isSo(chosen)) {
                return 0;
            }
            if (chosen.isEmpty()) {
                Printer.say("there is no schedule to switch " + (on() ? "on" : "off"));
                return 0;
            }
            api().put("/api/v1/schedules/switch", Map.of("on", on(), "schedules", chosen))
                    .forEach(answer -> Printer.say(answer.path("job").asString() + " / "
                            + answer.path("name").asString() + " is "
                            + (on() ? "on; next " + answer.path("next").path(0).asString("never") : "off")));
            return 0;
        }

        /** Says so where the one that is asked for is as it is wanted already. */
        private boolean isSo(List<Map<String, String>> chosen) {
            if (chosen.size() != 1 || schedule == null) {
                return false;
            }
            boolean so = false;
            for (JsonNode row : api().get("/api/v1/schedules")) {
                so |= row.path("job").asString().equals(job)
                        && row.path("name").asString().equals(schedule)
                        && row.path("on").asBoolean() == on();
            }
            if (so) {
                Printer.say(job + " / " + schedule + " is " + (on() ? "on" : "off") + " already");
            }
            return so;
        }

        private List<Map<String, String>> chosen() {
            boolean one = job != null && schedule != null;
            if (!one && job == null && team == null && !all || job != null && (team != null || all)) {
                throw new Wrong("JOB and SCHEDULE, or JOB alone for all of its schedules, or --team TEAM, or --all");
            }
            if (one) {
                return List.of(Map.of("job", job, "schedule", schedule));
            }
            List<Map<String, String>> chosen = new ArrayList<>();
            List<Map<String, String>> together = new ArrayList<>();
            api().get("/api/v1/schedules").forEach(row -> {
                boolean wanted = all
                        || row.path("job").asString().equals(job)
                        || row.path("team").asString().equals(team);
                if (wanted && row.path("on").asBoolean() != on()) {
                    Map<String, String> found = Map.of(
                            "job", row.path("job").asString(),
                            "schedule", row.path("name").asString());
                    chosen.add(found);
                    if (row.path("offTogether").asBoolean()) {
                        together.add(found);
                    }
                }
            });
            if (on() && !evenOff && !together.isEmpty() && together.size() < chosen.size()) {
                Printer.say((chosen.size() - together.size())
                        + " that were off before stay off; --even-off switches those on too");
                return together;
            }
            return chosen;
        }
    }

    private static String days(JsonNode row) {
        String to = row.path("calendar").asString("");
        String off = row.path("except").asString("");
        String shift = row.path("shift").asString("");
        return (to.isEmpty() ? "" : to)
                + (off.isEmpty() ? "" : (to.isEmpty() ? "" : ", ") + "not " + off)
                + (shift.isEmpty() || shift.equals("skip") ? "" : ", " + shift);
    }

    @Command(name = "on", description = "Switches schedules on; what came due meanwhile is accounted for.")
    static final class On extends Switch {
        @Override
        boolean on() {
            return true;
        }
    }

    @Command(
            name = "remove",
            description = "Takes a schedule out of its job's definition; 'gantrel job put-back' brings it back.",
            footer = {"", "Example:", "  gantrel schedule remove settle-tickets nightly"})
    static final class Remove extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "JOB", description = "The job.")
        private String job;

        @Parameters(index = "1", paramLabel = "SCHEDULE", description = "The name of its schedule.")
        private String schedule;

        @Override
        public Integer call() {
            api().delete("/api/v1/jobs/" + Api.encode(job) + "/schedules/" + Api.encode(schedule));
            Printer.say("the schedule " + schedule + " of " + job + " is removed; 'gantrel job revisions " + job
                    + "' lists what it was");
            return 0;
        }
    }

    @Command(name = "off", description = "Switches schedules off without losing them.")
    static final class Off extends Switch {
        @Override
        boolean on() {
            return false;
        }
    }
}
