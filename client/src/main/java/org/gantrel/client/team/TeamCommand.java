package org.gantrel.client.team;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Teams and who belongs to them. */
@Command(
        name = "team",
        description = "Teams and their members.",
        subcommands = {
            TeamCommand.Listing.class,
            TeamCommand.Create.class,
            TeamCommand.Add.class,
            TeamCommand.Remove.class,
            TeamCommand.Keep.class,
            TeamCommand.Folders.class
        })
public final class TeamCommand extends NounCommand {

    @Command(name = "list", description = "Lists the teams that you may see.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/teams").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("TEAM", "name"),
                            Column.of("ABOUT", "about"),
                            new Column("MEMBERS", Listing::members)),
                    "there is no team that you may see");
        }

        private static String members(JsonNode team) {
            var members = new ArrayList<String>();
            team.path("members").forEachEntry((name, role) -> members.add(name + " (" + role.asString() + ")"));
            return String.join(", ", members);
        }
    }

    @Command(name = "create", description = "Makes a team.")
    static final class Create extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "Its name: lower-case letters, digits and dashes.")
        private String name;

        @Option(names = "--about", paramLabel = "TEXT", defaultValue = "", description = "What it is for.")
        private String about;

        @Override
        public Integer call() {
            api().post("/api/v1/teams", Map.of("name", name, "about", about));
            Printer.say("made the team " + name);
            return 0;
        }
    }

    @Command(name = "add", description = "Adds somebody to a team, or changes what they are in it.")
    static final class Add extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "TEAM", description = "The team.")
        private String team;

        @Parameters(index = "1", paramLabel = "PERSON", description = "The person's account.")
        private String person;

        @Option(
                names = "--role",
                paramLabel = "ROLE",
                required = true,
                description = "viewer, operator, editor or manager.")
        private String role;

        @Override
        public Integer call() {
            api().put("/api/v1/teams/" + Api.encode(team) + "/members/" + Api.encode(person), Map.of("role", role));
            Printer.say(person + " is " + role + " in " + team);
            return 0;
        }
    }

    @Command(
            name = "keep",
            description =
                    "Says how long runs and logs of a team's jobs are kept; without options as the installation says.",
            footer = {"", "Example:", "  gantrel team keep revenue --runs '400 days' --logs '90 days'"})
    static final class Keep extends ServiceCommand {

        @Parameters(paramLabel = "TEAM", description = "The team.")
        private String team;

        @Option(
                names = "--runs",
                paramLabel = "TIME",
                defaultValue = "",
                description = "How long runs, such as '400 days'.")
        private String runs;

        @Option(names = "--logs", paramLabel = "TIME", defaultValue = "", description = "How long their logs.")
        private String logs;

        @Override
        public Integer call() {
            api().put("/api/v1/teams/" + Api.encode(team) + "/keep", Map.of("runs", runs, "logs", logs));
            Printer.say(team + " keeps runs " + said(runs) + ", logs " + said(logs));
            return 0;
        }

        private static String said(String length) {
            return length.isEmpty() ? "as the installation says" : length;
        }
    }

    @Command(
            name = "folders",
            description =
                    "Lists the folders that the jobs of a team may use, beside what their accounts may; administrators do it.",
            footer = {
                "",
                "Examples:",
                "  gantrel team folders revenue /srv/settle /srv/tickets",
                "  gantrel team folders revenue --any"
            })
    static final class Folders extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "TEAM", description = "The team.")
        private String team;

        @Parameters(
                index = "1..*",
                paramLabel = "FOLDER",
                description = "Full paths, which take the place of those before.")
        private List<String> folders = List.of();

        @Option(names = "--any", description = "Any folder that the accounts of the jobs may use.")
        private boolean any;

        @Override
        public Integer call() {
            if (any != folders.isEmpty()) {
                throw new Wrong("say which folders, or --any");
            }
            api().put("/api/v1/teams/" + Api.encode(team) + "/folders", Map.of("folders", folders));
            Printer.say("jobs of " + team + " may use " + (any ? "any folder" : String.join(", ", folders)));
            return 0;
        }
    }

    @Command(name = "remove", description = "Takes somebody out of a team.")
    static final class Remove extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "TEAM", description = "The team.")
        private String team;

        @Parameters(index = "1", paramLabel = "PERSON", description = "The person's account.")
        private String person;

        @Override
        public Integer call() {
            api().delete("/api/v1/teams/" + Api.encode(team) + "/members/" + Api.encode(person));
            Printer.say(person + " is not in " + team + " any more");
            return 0;
        }
    }
}
