package org.gantrel.client.run;

import org.gantrel.client.ShowCommand;
import org.gantrel.client.event.LineageTree;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Draws what caused a run, and what it caused. */
@Command(
        name = "lineage",
        description = "Draws what caused a run, and what it caused: from its first cause on.",
        footer = {"", "Example:", "  gantrel run lineage 1042"})
final class RunLineage extends ShowCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Override
    protected String path() {
        return "/api/v1/runs/" + number + "/lineage";
    }

    @Override
    protected void show(JsonNode part) {
        LineageTree.print(printer, part);
    }
}
