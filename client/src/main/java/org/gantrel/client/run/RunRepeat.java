package org.gantrel.client.run;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import org.gantrel.client.KeyValues;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.output.Format;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Runs the same again. */
@Command(
        name = "repeat",
        description =
                "Runs the same again, with the same values and for the same planned time; or goes on with a chain.",
        footer = {
            "",
            "Examples:",
            "  gantrel run repeat 4711                          the same once more, as a run of its own",
            "  gantrel run repeat 4711 --from-failed --wait     goes on in the same run with what ended badly",
            "  gantrel run repeat 4711 --from report -p day=2026-11-24   from a step on, with another value"
        })
final class RunRepeat extends ServiceCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--failed-rows", description = "Of a run over a roster, those rows that ended badly.")
    private boolean failedRows;

    @Option(
            names = "--from-failed",
            description = "Of a chain: goes on in the same run with the steps that ended badly, and what follows them.")
    private boolean fromFailed;

    @Option(
            names = "--from",
            paramLabel = "STEP",
            description = "Of a chain: goes on in the same run from a step, and with what follows it.")
    private String from;

    @Option(
            names = {"-p", "--parameter"},
            paramLabel = "KEY=VALUE",
            description = "Another value for the remainder of a chain; as often as needed.")
    private List<String> values = List.of();

    @Option(names = "--note", paramLabel = "TEXT", defaultValue = "", description = "Why a chain goes on.")
    private String note;

    @Option(names = "--wait", description = "Waits for the end and exits with its outcome: 0 well, 1 badly.")
    private boolean wait;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() throws IOException {
        boolean goesOn = fromFailed || from != null;
        if (fromFailed && from != null || failedRows && goesOn) {
            throw new Wrong("--from-failed, --from and --failed-rows: one of them, or none, would be right");
        }
        if (!goesOn && !(values.isEmpty() && note.isEmpty())) {
            throw new Wrong("-p and --note go with --from-failed or --from; a repeat has the run's own values");
        }
        JsonNode run = goesOn
                ? goOn()
                : api().post("/api/v1/runs/" + number + "/repeats" + (failedRows ? "?rows=failed" : ""), null);
        JsonNode shown = wait ? RunWait.end(api(), run.path("number").asLong()) : run;
        new RunPrinter(printer).print(shown, format);
        return wait ? RunPrinter.exitCode(shown) : 0;
    }

    private JsonNode goOn() {
        var body = new LinkedHashMap<String, Object>();
        body.put("parameters", KeyValues.of(values));
        if (from != null) {
            body.put("from", from);
        }
        if (!note.isEmpty()) {
            body.put("note", note);
        }
        api().post("/api/v1/runs/" + number + "/rounds", body);
        return api().get("/api/v1/runs/" + number);
    }
}
