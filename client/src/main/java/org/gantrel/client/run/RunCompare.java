package org.gantrel.client.run;

import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Times;
import org.gantrel.core.text.Words;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Two runs side by side. */
@Command(
        name = "compare",
        description = "Shows two runs side by side: in what they differ, and by how much.",
        footer = {
            "",
            "Examples:",
            "  gantrel run compare 1042                 with the good run of its job before it",
            "  gantrel run compare 1017 1042 --all"
        })
final class RunCompare extends ListCommand {

    @Parameters(index = "0", paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "OTHER",
            description = "The one that it is compared with (the latest run of its job before it that ended well).")
    private Long other;

    @Option(names = "--all", description = "Also what is alike.")
    private boolean all;

    @Override
    public Integer call() {
        String path = "/api/v1/runs/" + (other == null ? number : other) + "/comparison";
        JsonNode compared = api().get(other == null ? path : Api.path(path, Map.of("with", number)));
        List<JsonNode> rows = compared.path("facts")
                .valueStream()
                .filter(fact -> all || !fact.path("alike").asBoolean())
                .toList();
        String one = "run " + compared.path("one").path("number").asString();
        String another = "run " + compared.path("other").path("number").asString();
        return print(
                rows,
                List.of(Column.of("WHAT", "what"), column(one, "one"), column(another, "other"), Column.of("BY", "by")),
                one + " and " + another + " are alike in all that is compared");
    }

    private static Column column(String run, String field) {
        return new Column(run.toUpperCase(Locale.ROOT), row -> said(row, field), row -> row.path(field)
                .asString());
    }

    private static String said(JsonNode row, String field) {
        return switch (row.path("kind").asString()) {
            case "duration" -> Times.duration(row, field);
            case "time" -> Times.local(row, field);
            case "bytes" ->
                row.path(field).asString().isEmpty()
                        ? ""
                        : Words.bytes(row.path(field).asLong());
            default -> row.path(field).asString();
        };
    }
}
