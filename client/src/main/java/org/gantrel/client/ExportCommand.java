package org.gantrel.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Writes definitions out, as they were written. */
@Command(
        name = "export",
        description = {
            "Writes definitions to standard output, or each to a file of a folder, so that 'gantrel import' takes them.",
            "Calendars, lanes and rosters come before the jobs that speak of them. Rows that were put into a roster later",
            "are written with --to as NAME.csv, for 'gantrel roster load'. Credentials are never written."
        },
        footer = {
            "",
            "Examples:",
            "  gantrel export settle-tickets",
            "  gantrel export --team revenue --to definitions/"
        })
final class ExportCommand extends ServiceCommand {

    private static final List<String> KINDS = List.of("calendars", "lanes", "rosters", "tellings", "jobs");

    @Parameters(
            paramLabel = "NAME",
            arity = "0..*",
            description =
                    "Jobs, calendars, lanes, rosters, notifications, duty lists or channels; all that you may see where none is named.")
    private List<String> names;

    @Option(names = "--team", paramLabel = "TEAM", description = "Only what belongs to this team.")
    private String team;

    @Option(
            names = "--to",
            paramLabel = "DIR",
            description = "A folder: a job goes to NAME.yaml in it, others to calendars/ and rosters/ below it.")
    private Path folder;

    /** Something that has a definition. */
    private record Thing(String kind, String name) {
        private String path() {
            return "/api/v1/" + kind + "/" + Api.encode(name);
        }

        private Path below(Path folder) {
            return kind.equals("jobs") ? folder : folder.resolve(kind);
        }
    }

    @Override
    public Integer call() throws IOException {
        List<Thing> wanted = wanted();
        boolean first = true;
        for (Thing thing : wanted) {
            JsonNode found = api().get(thing.path());
            String definition = found.path("definition").asString();
            if (folder == null) {
                printer.line((first ? "" : "---\n") + definition.stripTrailing());
                first = false;
                continue;
            }
            Path target = Files.createDirectories(thing.below(folder));
            Files.writeString(target.resolve(thing.name() + ".yaml"), definition);
            if (thing.kind().equals("rosters") && found.path("rows").asInt() > 0) {
                Files.writeString(
                        target.resolve(thing.name() + ".csv"),
                        api().get(thing.path() + "/csv").path("csv").asString());
            }
        }
        if (folder != null) {
            Printer.say(
                    "wrote " + wanted.size() + (wanted.size() == 1 ? " definition" : " definitions") + " to " + folder);
        }
        return 0;
    }

    private List<Thing> wanted() {
        var all = new ArrayList<Thing>();
        for (String kind : KINDS) {
            for (JsonNode each : api().list("/api/v1/" + kind, Map.of(), Integer.MAX_VALUE)) {
                if (team == null || team.equals(each.path("team").asString())) {
                    String name = each.path("name").asString();
                    boolean telling = kind.equals("tellings");
                    all.add(new Thing(telling ? kind + "/" + each.path("kind").asString() : kind, name));
                }
            }
        }
        if (names == null) {
            return all;
        }
        var chosen = new ArrayList<Thing>();
        for (String name : names) {
            List<Thing> found =
                    all.stream().filter(thing -> thing.name().equals(name)).toList();
            // a job that is not there is refused by the service, which knows names like it
            chosen.addAll(found.isEmpty() ? List.of(new Thing("jobs", name)) : found);
        }
        return chosen;
    }
}
