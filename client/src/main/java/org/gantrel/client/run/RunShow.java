package org.gantrel.client.run;

import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Shows a run. */
@Command(name = "show", description = "Shows a run: why it started, as whom, how it ended, its timeline and steps.")
final class RunShow extends ServiceCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() {
        JsonNode run = api().get("/api/v1/runs/" + number);
        if (format == Format.json) {
            printer.json(run);
            return 0;
        }
        printer.line(printer.state(run.path("state").asString()) + "  "
                + run.path("sentence").asString());
        line("revision", run.path("revision").asString());
        line("took", Times.duration(run, "took"));
        line("usually takes", Times.duration(run, "usual"));
        run.path("parameters").forEachEntry((name, value) -> line(name, value.asString()));
        line("seen to by", run.path("takenBy").asString(""));
        line("part of run", run.path("parent").asString(""));
        line("waits for", run.path("waitingFor").asString(""));
        line("deadline", Times.local(run, "deadline") + (run.path("late").asBoolean() ? "  late" : ""));
        line("next try", Times.local(run, "retryAt"));
        line("progress", ProgressBar.line(run));
        run.path("results").forEachEntry((name, value) -> line("gave " + name, value.asString()));
        if (run.has("attempts")) {
            printer.line("  tries that are over");
            run.path("attempts")
                    .forEach(attempt -> printer.line("    %-3s %s  %s  %s"
                            .formatted(
                                    attempt.path("attempt").asString(),
                                    Times.local(attempt, "startedAt"),
                                    printer.state(attempt.path("state").asString()),
                                    attempt.path("message").asString())));
        }
        printer.line("  timeline");
        run.path("timeline")
                .forEach(moment -> printer.line("    " + Times.local(moment, "at") + "  "
                        + moment.path("what").asString()));
        if (!run.path("steps").isEmpty()) {
            printer.line("  steps");
            run.path("steps").forEach(this::step);
        }
        return 0;
    }

    private void step(JsonNode step) {
        String child = step.path("run").has("number")
                ? "run " + step.path("run").path("number").asString()
                : "";
        printer.line("    %-20s %-12s %-10s %s"
                .formatted(
                        step.path("step").asString(),
                        step.path("state").asString(),
                        child,
                        step.path("run").path("message").asString("")));
    }

    private void line(String title, String text) {
        if (!text.isEmpty()) {
            printer.line("  %-16s %s".formatted(title, text));
        }
    }
}
