package org.gantrel.client.run;

import java.io.IOException;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Format;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Runs the same again. */
@Command(name = "repeat", description = "Runs the same again, with the same values and for the same planned time.")
final class RunRepeat extends ServiceCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--failed-rows", description = "Of a run over a roster, those rows that ended badly.")
    private boolean failedRows;

    @Option(names = "--wait", description = "Waits for the end and exits with its outcome: 0 well, 1 badly.")
    private boolean wait;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() throws IOException {
        JsonNode run = api().post("/api/v1/runs/" + number + "/repeats" + (failedRows ? "?rows=failed" : ""), null);
        JsonNode shown = wait ? RunWait.end(api(), run.path("number").asLong()) : run;
        new RunPrinter(printer).print(shown, format);
        return wait ? RunPrinter.exitCode(shown) : 0;
    }
}
