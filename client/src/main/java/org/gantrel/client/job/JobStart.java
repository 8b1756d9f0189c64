package org.gantrel.client.job;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.KeyValues;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Visible;
import org.gantrel.client.run.RunPrinter;
import org.gantrel.client.run.RunWait;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Starts a job by hand. */
@Command(
        name = "start",
        description = "Starts a job with values and prints the run.",
        footer = {
            "",
            "Examples:",
            "  gantrel job start settle-tickets -p route=skarholm",
            "  gantrel job start settle-tickets -p route=skarholm --wait    exits 1 unless it ends well",
            "  gantrel job start settle-tickets -p route=skarholm --follow  shows its log too",
            "  gantrel job start settle-tickets --over routes --rows failed  those that failed last time"
        })
final class JobStart extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The job.")
    private String name;

    @Option(
            names = {"-p", "--parameter"},
            paramLabel = "KEY=VALUE",
            description = "A value; as often as needed.")
    private List<String> values = List.of();

    @Option(names = "--over", paramLabel = "ROSTER", description = "Runs it once for each row of a roster.")
    private String roster;

    @Option(
            names = "--rows",
            paramLabel = "ROWS",
            description = "Which rows: all, failed, or places such as 1,4-7 (all).")
    private String rows;

    @Option(names = "--at-once", paramLabel = "N", description = "How many rows go side by side (as the roster says).")
    private Integer atOnce;

    @Option(names = "--after-failure", paramLabel = "WHAT", description = "carry-on or stop (as the roster says).")
    private String afterFailure;

    @Option(
            names = "--skip-gates",
            description = "Does not wait for the job's gates; that you chose so stands with the run.")
    private boolean skipGates;

    @Option(names = "--wait", description = "Waits for the end and exits with the run's outcome: 0 well, 1 badly.")
    private boolean wait;

    @Option(
            names = "--follow",
            description = "Waits, and shows the log as it grows, or the steps or rows as they go, on standard error.")
    private boolean follow;

    @Option(
            names = "--key",
            paramLabel = "KEY",
            description = "Starts once however often it is asked with this key (Idempotency-Key).")
    private String key;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() throws IOException {
        var body = new LinkedHashMap<String, Object>();
        body.put("parameters", KeyValues.of(values));
        if (roster != null) {
            var over = new LinkedHashMap<String, Object>();
            over.put("roster", roster);
            over.put("rows", rows);
            over.put("atOnce", atOnce);
            over.put("afterFailure", afterFailure);
            body.put("over", over);
        } else if (rows != null || atOnce != null || afterFailure != null) {
            throw new Wrong("--rows, --at-once and --after-failure go with --over ROSTER");
        }
        if (skipGates) {
            body.put("skipGates", true);
        }
        Map<String, String> headers = key == null ? Map.of() : Map.of("Idempotency-Key", key);
        JsonNode run = api().post("/api/v1/jobs/" + Api.encode(name) + "/runs", body, headers);
        long number = run.path("number").asLong();
        if (!wait && !follow) {
            new RunPrinter(printer).print(run, format);
            return 0;
        }
        Printer.say("run " + number + " of " + name + " is under way");
        JsonNode ended = follow
                ? RunWait.follow(api(), number, text -> System.err.print(Visible.of(text)))
                : RunWait.end(api(), number);
        new RunPrinter(printer).print(ended, format);
        return RunPrinter.exitCode(ended);
    }
}
