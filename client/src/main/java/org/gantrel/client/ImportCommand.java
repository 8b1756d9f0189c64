package org.gantrel.client;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.api.Api;
import org.gantrel.client.definition.DefinitionFiles;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Difference;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Brings definition files in. */
@Command(
        name = "import",
        description = "Brings in definition files (YAML or JSON). Where anything is wrong, nothing is changed.",
        footer = {
            "",
            "Examples:",
            "  gantrel import settle.yaml --dry-run      what would change, line by line",
            "  gantrel import definitions/",
            "  gantrel export | gantrel import -         from standard input"
        })
final class ImportCommand extends ListCommand {

    @Parameters(
            paramLabel = "FILE|DIR",
            arity = "1..*",
            description = "Files, or folders of .yaml, .yml and .json files; - for standard input.")
    private List<Path> paths;

    @Option(names = "--dry-run", description = "Says what would be created, changed and left alone, and does nothing.")
    private boolean dryRun;

    @Option(
            names = "--over-edits",
            description = "Also where that undoes an edit which somebody made since a file was last brought in.")
    private boolean overEdits;

    @Override
    public Integer call() throws IOException {
        var files = new ArrayList<Map<String, String>>();
        for (Path file : DefinitionFiles.of(paths)) {
            files.add(Map.of("name", DefinitionFiles.name(file), "text", TextFile.read(file)));
        }
        JsonNode answer = api().post(
                        Api.path("/api/v1/imports", Map.of("dryRun", dryRun, "overEdits", overEdits)),
                        Map.of("files", files));
        List<JsonNode> rows = new ArrayList<>();
        answer.forEach(rows::add);
        rows.forEach(row -> row.path("warnings")
                .forEach(warning ->
                        Printer.say("gantrel: warning: " + row.path("file").asString() + ": "
                                + row.path("name").asString() + ": " + warning.asString())));
        if (dryRun && format == Format.table) {
            rows.forEach(ImportCommand::explain);
            rows.stream().filter(row -> row.has("before")).forEach(row -> Difference.between(
                            row.path("name").asString() + " now",
                            row.path("before").asString(),
                            row.path("name").asString() + " in "
                                    + row.path("file").asString(),
                            row.path("after").asString())
                    .forEach(Printer::say));
        }
        print(
                rows,
                List.of(
                        new Column("ACTION", row -> words(row.path("action").asString())),
                        Column.of("KIND", "kind"),
                        Column.of("NAME", "name"),
                        Column.of("TEAM", "team"),
                        Column.of("REVISION", "revision"),
                        Column.of("FILE", "file")),
                "nothing to bring in");
        return 0;
    }

    private static void explain(JsonNode row) {
        row.path("schedules")
                .forEach(schedule -> Printer.say(row.path("name").asString() + " / "
                        + schedule.path("name").asString() + ": "
                        + schedule.path("phrase").asString() + " ("
                        + schedule.path("zone").asString() + "), next "
                        + schedule.path("next").path(0).asString("never")));
    }

    private String words(String action) {
        return switch (action) {
            case "create" -> dryRun ? "would create" : "created";
            case "change" -> dryRun ? "would change" : "changed";
            default -> dryRun ? "would leave" : "left alone";
        };
    }
}
