package org.gantrel.client.roster;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.Revisions;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.TextFile;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Tables of parameter rows. */
@Command(
        name = "roster",
        description = "Tables of parameter rows that jobs run over.",
        subcommands = {
            RosterCommand.Listing.class,
            RosterCommand.Rows.class,
            RosterCommand.Load.class,
            RosterCommand.Export.class,
            RosterCommand.Include.class,
            RosterCommand.HandledList.class,
            RosterCommand.Forget.class,
            RosterCommand.History.class,
            RosterCommand.PutBack.class,
            RosterCommand.Retire.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel roster load routes routes.csv        the first line names the columns",
            "  gantrel roster rows routes                   with what became of each row last",
            "  gantrel job start settle-tickets --over routes --wait",
            "  gantrel roster forget passes-ending --key 7012"
        })
public final class RosterCommand extends NounCommand {

    private static final String PATH = "/api/v1/rosters/";
    private static final int MOST = 1_000_000;

    @Command(name = "list", description = "Lists the rosters.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/rosters").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("NAME", "name"),
                            Column.of("TEAM", "team"),
                            new Column("ROWS", row -> row.path("source")
                                    .asString(row.path("rows").asString(""))),
                            new Column("COLUMNS", row -> values(row.path("columns"))),
                            new Column("HANDLED ONCE BY", row -> values(row.path("key"))),
                            Column.of("ABOUT", "about")),
                    "there is no roster yet; 'gantrel import' brings one in");
        }
    }

    @Command(name = "rows", description = "Lists the rows that are written down, with what became of each last.")
    static final class Rows extends ListCommand {

        @Parameters(paramLabel = "NAME", description = "The roster.")
        private String name;

        @Option(names = "--limit", paramLabel = "N", description = "The first so many (100).")
        private int limit = 100;

        @Override
        public Integer call() {
            return print(
                    api().list(PATH + Api.encode(name) + "/rows", Map.of(), limit),
                    List.of(
                            Column.of("ROW", "place"),
                            new Column("IN", row -> row.path("included").asBoolean() ? "yes" : "no"),
                            Column.of("STATE", "lastState"),
                            Column.of("RUN", "lastRun"),
                            new Column("VALUES", row -> pairs(row.path("values")))),
                    "the roster " + name + " has no rows of its own");
        }
    }

    @Command(name = "load", description = "Puts the rows of a CSV file in the place of those that are there.")
    static final class Load extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "NAME", description = "The roster.")
        private String name;

        @Parameters(index = "1", paramLabel = "FILE.csv", description = "The file; its first line names the columns.")
        private Path file;

        @Override
        public Integer call() throws IOException {
            JsonNode roster = api().put(PATH + Api.encode(name) + "/rows", Map.of("csv", TextFile.read(file)));
            Printer.say("the roster " + name + " has " + roster.path("rows").asString()
                    + (roster.path("rows").asInt() == 1 ? " row" : " rows"));
            return 0;
        }
    }

    @Command(name = "export", description = "Prints the rows that are written down as CSV.")
    static final class Export extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The roster.")
        private String name;

        @Override
        public Integer call() {
            printer.line(api().get(PATH + Api.encode(name) + "/csv")
                    .path("csv")
                    .asString()
                    .stripTrailing());
            return 0;
        }
    }

    @Command(name = "include", description = "Takes a row into sweeps, or with --not leaves it out.")
    static final class Include extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "NAME", description = "The roster.")
        private String name;

        @Parameters(index = "1", paramLabel = "ROW", description = "The row's place, as 'roster rows' lists it.")
        private int place;

        @Option(names = "--not", description = "Leaves it out without deleting it.")
        private boolean not;

        @Override
        public Integer call() {
            api().put(PATH + Api.encode(name) + "/rows/" + place + "/included", Map.of("included", !not));
            Printer.say("row " + place + " of " + name + " is " + (not ? "left out" : "included"));
            return 0;
        }
    }

    @Command(name = "handled", description = "Lists the records that were handled already and are left out.")
    static final class HandledList extends ListCommand {

        @Parameters(paramLabel = "NAME", description = "The roster.")
        private String name;

        @Override
        public Integer call() {
            return print(
                    api().list(PATH + Api.encode(name) + "/handled", Map.of(), MOST),
                    List.of(
                            Column.of("KEY", "key"),
                            Column.of("JOB", "job"),
                            Column.time("HANDLED", "at"),
                            Column.of("RUN", "run")),
                    "nothing is remembered of the roster " + name);
        }
    }

    @Command(name = "forget", description = "Forgets that a record was handled, so that it is handled again.")
    static final class Forget extends ServiceCommand {

        static final class What {
            @Option(names = "--key", paramLabel = "KEY", description = "This record.")
            private String key;

            @Option(names = "--all", description = "All of them.")
            private boolean all;
        }

        @Parameters(paramLabel = "NAME", description = "The roster.")
        private String name;

        @ArgGroup(multiplicity = "1")
        private What what;

        @Override
        public Integer call() {
            Map<String, String> parameters = new LinkedHashMap<>();
            parameters.put("key", what.key);
            api().delete(Api.path(PATH + Api.encode(name) + "/handled", parameters));
            Printer.say("forgotten");
            return 0;
        }
    }

    @Command(name = "revisions", description = "Lists who changed a roster and when; shows or compares revisions.")
    static final class History extends Revisions.Listing {
        @Override
        protected String path() {
            return "/api/v1/rosters/";
        }
    }

    @Command(name = "put-back", description = "Makes an earlier revision of a roster the latest again.")
    static final class PutBack extends Revisions.PutBack {
        @Override
        protected String path() {
            return "/api/v1/rosters/";
        }
    }

    @Command(name = "retire", description = "Takes a roster out of use.")
    static final class Retire extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The roster.")
        private String name;

        @Override
        public Integer call() {
            api().delete(PATH + Api.encode(name));
            Printer.say("the roster " + name + " is retired");
            return 0;
        }
    }

    private static String values(JsonNode list) {
        List<String> all = new ArrayList<>();
        list.forEach(each -> all.add(each.asString()));
        return String.join(", ", all);
    }

    /** A row's values as people read them. */
    public static String pairs(JsonNode values) {
        return values.properties().stream()
                .map(entry -> entry.getKey() + "=" + entry.getValue().asString())
                .collect(Collectors.joining(" "));
    }
}
