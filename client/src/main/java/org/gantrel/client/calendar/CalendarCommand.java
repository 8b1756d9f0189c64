package org.gantrel.client.calendar;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.Revisions;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.TextFile;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Calendars. */
@Command(
        name = "calendar",
        description = "Named sets of days that schedules keep to or off.",
        subcommands = {
            CalendarCommand.Listing.class,
            CalendarCommand.Show.class,
            CalendarCommand.Preview.class,
            CalendarCommand.Import.class,
            CalendarCommand.Export.class,
            CalendarCommand.History.class,
            CalendarCommand.PutBack.class,
            CalendarCommand.Retire.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel calendar show public-holidays --year 2027",
            "  gantrel calendar preview holidays.yaml     which schedules would move",
            "  gantrel calendar import holidays.ics --name public-holidays --team finance",
            "  gantrel calendar export sailing-days --closed > closed.ics"
        })
public final class CalendarCommand extends NounCommand {

    @Command(name = "list", description = "Lists the calendars.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/calendars").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("NAME", "name"),
                            Column.of("TEAM", "team"),
                            new Column(
                                    "SCHEDULES",
                                    row -> String.valueOf(row.path("usedBy").size())),
                            new Column("MADE OF", row -> join(row.path("others"))),
                            Column.of("HOURS", "hours"),
                            Column.of("ABOUT", "about")),
                    "there is no calendar yet; 'gantrel import' brings one in");
        }

        private static String join(JsonNode names) {
            List<String> all = new ArrayList<>();
            names.forEach(name -> all.add(name.asString()));
            return String.join(", ", all);
        }
    }

    @Command(name = "show", description = "Shows the closed and the labelled days of a year.")
    static final class Show extends ListCommand {

        @Parameters(paramLabel = "NAME", description = "The calendar.")
        private String name;

        @Option(names = "--year", paramLabel = "YEAR", description = "The year (this one).")
        private int year = LocalDate.now().getYear();

        @Option(names = "--all", description = "Every day, weekends too.")
        private boolean all;

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/calendars/" + Api.encode(name) + "/years/" + year)
                    .forEach(rows::add);
            int open = (int)
                    rows.stream().filter(row -> row.path("open").asBoolean()).count();
            if (!all) {
                rows.removeIf(row -> !row.has("label"));
            }
            Printer.say(name + " has " + open + " days in " + year);
            return print(
                    rows,
                    List.of(
                            Column.of("DATE", "date"),
                            new Column("DAY", row -> weekday(row.path("date").asString())),
                            new Column("OPEN", row -> row.path("open").asBoolean() ? "open" : "closed"),
                            Column.of("LABEL", "label")),
                    "no day of " + year + " has a label; --all shows every day");
        }

        private static String weekday(String date) {
            String name = LocalDate.parse(date).getDayOfWeek().name();
            return name.charAt(0) + name.substring(1, 3).toLowerCase(Locale.ROOT);
        }
    }

    @Command(name = "preview", description = "Says which schedules a definition would move, and saves nothing.")
    static final class Preview extends ListCommand {

        @Parameters(paramLabel = "FILE", description = "A definition file with one calendar.")
        private Path file;

        @Override
        public Integer call() throws IOException {
            JsonNode answer = api().post("/api/v1/calendars/preview", Map.of("definition", TextFile.read(file)));
            List<JsonNode> rows = new ArrayList<>();
            answer.path("moved").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("JOB", "job"),
                            Column.of("SCHEDULE", "schedule"),
                            Column.of("TEAM", "team"),
                            new Column("WOULD NOT START", row -> first(row.path("before"))),
                            new Column("WOULD START INSTEAD", row -> first(row.path("then")))),
                    "no schedule would move within three months");
        }

        private static String first(JsonNode times) {
            return times.path(0).asString("") + (times.size() > 1 ? " and " + (times.size() - 1) + " more" : "");
        }
    }

    @Command(name = "import", description = "Makes a calendar of the events of an iCalendar file, or changes one.")
    static final class Import extends ServiceCommand {

        @Parameters(paramLabel = "FILE.ics", description = "The file.")
        private Path file;

        @Option(names = "--name", required = true, paramLabel = "NAME", description = "What the calendar is called.")
        private String name;

        @Option(names = "--team", required = true, paramLabel = "TEAM", description = "The team that owns it.")
        private String team;

        @Option(names = "--dry-run", description = "Prints the definition and saves nothing.")
        private boolean dryRun;

        @Override
        public Integer call() throws IOException {
            JsonNode made = api().post(
                            "/api/v1/calendars/from-ics",
                            Map.of("name", name, "team", team, "text", TextFile.read(file)));
            String definition = made.path("definition").asString();
            if (dryRun) {
                printer.line(definition.stripTrailing());
                return 0;
            }
            JsonNode answer = api().post(
                            "/api/v1/imports",
                            Map.of("files", List.of(Map.of("name", file.toString(), "text", definition))));
            Printer.say(
                    "calendar " + name + ": " + answer.path(0).path("action").asString() + ", revision "
                            + answer.path(0).path("revision").asString());
            return 0;
        }
    }

    @Command(name = "export", description = "Prints the days of a calendar as iCalendar.")
    static final class Export extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The calendar.")
        private String name;

        @Option(names = "--closed", description = "The days that it has not, instead of those that it has.")
        private boolean closed;

        @Option(names = "--from", paramLabel = "DATE", description = "From this day (the first of this year).")
        private String from;

        @Option(names = "--until", paramLabel = "DATE", description = "Until this day (the last of the next year).")
        private String until;

        @Override
        public Integer call() throws IOException {
            Map<String, Object> parameters = new LinkedHashMap<>();
            parameters.put("closed", closed);
            parameters.put("from", from);
            parameters.put("until", until);
            try (var in = api().stream(Api.path("/api/v1/calendars/" + Api.encode(name) + "/ics", parameters))) {
                printer.line(new String(in.readAllBytes(), StandardCharsets.UTF_8).stripTrailing());
            }
            return 0;
        }
    }

    @Command(name = "revisions", description = "Lists who changed a calendar and when; shows or compares revisions.")
    static final class History extends Revisions.Listing {
        @Override
        protected String path() {
            return "/api/v1/calendars/";
        }
    }

    @Command(name = "put-back", description = "Makes an earlier revision of a calendar the latest again.")
    static final class PutBack extends Revisions.PutBack {
        @Override
        protected String path() {
            return "/api/v1/calendars/";
        }
    }

    @Command(name = "retire", description = "Takes a calendar out of use that no schedule speaks of.")
    static final class Retire extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The calendar.")
        private String name;

        @Override
        public Integer call() {
            api().delete("/api/v1/calendars/" + Api.encode(name));
            Printer.say("the calendar " + name + " is retired");
            return 0;
        }
    }
}
