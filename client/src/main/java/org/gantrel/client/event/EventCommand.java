package org.gantrel.client.event;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NewestFirst;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.ShowCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** What happened. */
@Command(
        name = "event",
        description = "Events: what happened, as the journal has it.",
        subcommands = {
            EventCommand.Listing.class,
            EventCommand.Show.class,
            EventCommand.Follow.class,
            EventCommand.Types.class,
            EventCommand.Lineage.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel event list --type 'file.*' --since 1d",
            "  gantrel event follow --job settle-tickets",
            "  gantrel event types                  what a trigger can wait for",
            "  gantrel event lineage 4711           what came of it"
        })
public final class EventCommand extends NounCommand {

    private static final String PATH = "/api/v1/journal";
    private static final int PAGE = 200;
    private static final long LOOK_MILLIS = 1_000;

    /** Which events are meant. */
    static final class Wanted {
        @Option(names = "--type", paramLabel = "TYPE", description = "One type; 'run.*' for all that begin so.")
        private String type = "";

        @Option(names = "--job", paramLabel = "JOB", description = "Those of one job.")
        private String job = "";

        @Option(names = "--team", paramLabel = "TEAM", description = "Those of one team.")
        private String team = "";

        @Option(names = "--run", paramLabel = "NUMBER", description = "Those of one run.")
        private long run;

        private Map<String, Object> query() {
            Map<String, Object> query = new LinkedHashMap<>();
            query.put("type", type);
            query.put("job", job);
            query.put("team", team);
            query.put("run", run == 0 ? "" : String.valueOf(run));
            query.values().removeIf(""::equals);
            return query;
        }
    }

    private static String about(JsonNode event) {
        JsonNode about = event.path("about");
        for (String field : List.of("message", "path", "state", "what", "name", "source", "for")) {
            String text = about.path(field).asString("");
            if (!text.isEmpty()) {
                String job = about.path("job").asString("");
                return job.isEmpty() || text.contains(job) ? text : job + " " + text;
            }
        }
        return about.path("job").asString("");
    }

    private static List<Column> columns() {
        return List.of(
                Column.of("ID", "id"),
                Column.time("AT", "at"),
                Column.of("TYPE", "type"),
                Column.of("TEAM", "team"),
                Column.of("RUN", "run"),
                new Column("WHAT", EventCommand::about));
    }

    @Command(name = "list", description = "Lists events, newest first.")
    static final class Listing extends NewestFirst {

        @Mixin
        private Wanted wanted;

        @Option(names = "--since", paramLabel = "TIME", description = "From a time on, or so long ago, such as 2h.")
        private String since = "";

        @Override
        public Integer call() {
            Map<String, Object> query = wanted.query();
            if (!since.isEmpty()) {
                query.put("since", Times.since(since).toString());
            }
            return print(api().list(PATH, query, limit), columns(), "nothing of that kind has happened");
        }
    }

    @Command(name = "types", description = "Lists the types of events, with what each says.")
    static final class Types extends ListCommand {

        @Override
        public Integer call() {
            JsonNode types = api().get(PATH + "/types");
            return print(
                    types.valueStream().toList(),
                    List.of(
                            Column.of("TYPE", "type"),
                            Column.of("ABOUT", "about"),
                            Column.of("SAYS", "says"),
                            new Column(
                                    "FIELDS",
                                    type -> String.join(
                                            " ",
                                            type.path("fields")
                                                    .valueStream()
                                                    .map(field ->
                                                            field.path("name").asString())
                                                    .toList()))),
                    "there are none");
        }
    }

    @Command(name = "show", description = "Shows an event with all that it says.")
    static final class Show extends ShowCommand {

        @Parameters(paramLabel = "ID", description = "The event.")
        private long id;

        @Override
        protected String path() {
            return PATH + "/" + id;
        }

        @Override
        protected void show(JsonNode event) {
            printer.line(printer.strong(event.path("type").asString()) + "  " + Times.local(event, "at") + "  "
                    + event.path("team").asString());
            event.path("about")
                    .propertyStream()
                    .forEach(field -> printer.line("  %-12s %s"
                            .formatted(
                                    field.getKey(),
                                    field.getValue().isValueNode()
                                            ? field.getValue().asString()
                                            : field.getValue().toString())));
        }
    }

    @Command(name = "lineage", description = "Draws what an event caused.")
    static final class Lineage extends ShowCommand {

        @Parameters(paramLabel = "ID", description = "The event.")
        private long id;

        @Override
        protected String path() {
            return PATH + "/" + id + "/lineage";
        }

        @Override
        protected void show(JsonNode part) {
            LineageTree.print(printer, part);
        }
    }

    @Command(
            name = "follow",
            description = {"Prints events as they happen, until it is stopped."},
            footer = {"", "One event a line, for programs: --format json"})
    static final class Follow extends ServiceCommand {

        @Mixin
        private Wanted wanted;

        @Option(
                names = "--from",
                paramLabel = "ID",
                description = "Begins after an event, so that a reader goes on where it left off.")
        private Long from;

        @Option(names = "--until", paramLabel = "COUNT", description = "Ends after so many.")
        private int until = Integer.MAX_VALUE;

        @Option(
                names = "--format",
                paramLabel = "FORMAT",
                defaultValue = "table",
                description = "table or json (table).")
        private Format format;

        @Override
        public Integer call() throws InterruptedException {
            int seen = 0;
            long at = Optional.ofNullable(from).orElseGet(this::newest);
            while (seen < until) {
                Map<String, Object> query = wanted.query();
                query.put("from", at);
                List<JsonNode> events = api().list(PATH, query, PAGE);
                for (JsonNode event : events) {
                    if (seen++ < until) {
                        print(event);
                    }
                    at = event.path("id").asLong();
                }
                if (events.isEmpty()) {
                    Thread.sleep(LOOK_MILLIS);
                }
            }
            return 0;
        }

        private long newest() {
            return api().list(PATH, Map.of(), 1).stream()
                    .findFirst()
                    .map(event -> event.path("id").asLong())
                    .orElse(0L);
        }

        private void print(JsonNode event) {
            if (format == Format.json) {
                printer.line(event.toString());
            } else {
                printer.line("%8d  %s  %-18s %s"
                        .formatted(
                                event.path("id").asLong(),
                                Times.local(event, "at"),
                                event.path("type").asString(),
                                about(event)));
            }
        }
    }
}
