package org.gantrel.client;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Writes definitions out, as they were written. */
@Command(
        name = "export",
        description = "Writes the definitions of jobs to standard output, or each to a file of a folder.",
        footer = {
            "",
            "Examples:",
            "  gantrel export settle-tickets",
            "  gantrel export --team revenue --to definitions/"
        })
final class ExportCommand extends ServiceCommand {

    @Parameters(paramLabel = "JOB", arity = "0..*", description = "The jobs; all that you may see where none is named.")
    private List<String> names;

    @Option(names = "--team", paramLabel = "TEAM", description = "Only jobs of this team.")
    private String team;

    @Option(names = "--to", paramLabel = "DIR", description = "A folder; each job goes to a file NAME.yaml in it.")
    private Path folder;

    @Override
    public Integer call() throws IOException {
        List<String> wanted = names != null ? names : all();
        boolean first = true;
        for (String name : wanted) {
            String definition = api().get("/api/v1/jobs/" + Api.encode(name))
                    .path("definition")
                    .asString();
            if (folder != null) {
                Files.createDirectories(folder);
                Files.writeString(folder.resolve(name + ".yaml"), definition);
            } else {
                printer.line((first ? "" : "---\n") + definition.stripTrailing());
            }
            first = false;
        }
        if (folder != null) {
            Printer.say("wrote " + wanted.size() + " definitions to " + folder);
        }
        return 0;
    }

    private List<String> all() {
        var parameters = new HashMap<String, Object>();
        parameters.put("team", team);
        List<JsonNode> jobs = api().list("/api/v1/jobs", parameters, Integer.MAX_VALUE);
        return jobs.stream().map(job -> job.path("name").asString()).toList();
    }
}
