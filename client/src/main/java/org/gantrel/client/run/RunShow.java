package org.gantrel.client.run;

import java.io.IOException;
import java.util.stream.Collectors;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.StepTree;
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

    @Option(
            names = "--follow",
            description = "Goes on to tell the steps or rows as they go, and exits with the outcome: 0 well, 1 badly.")
    private boolean follow;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() throws IOException {
        JsonNode run = api().get("/api/v1/runs/" + number);
        if (format == Format.json) {
            printer.json(run);
            return 0;
        }
        printer.line(printer.state(run.path("state").asString()) + "  "
                + run.path("sentence").asString());
        String newer = run.path("newerRevision").asString("");
        line(
                "revision",
                run.path("revision").asString()
                        + (newer.isEmpty()
                                ? ""
                                : ", which it keeps; the job has been changed since and is at " + newer));
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
        course(run.path("chain"));
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
            new StepTree(run.path("steps"), printer).lines().forEach(line -> printer.line("    " + line));
        }
        if (follow && !run.path("finishedAt").isMissingNode()) {
            return RunPrinter.exitCode(run);
        }
        if (follow) {
            JsonNode ended = RunWait.follow(api(), number, Printer::say);
            printer.line(printer.state(ended.path("state").asString()) + "  "
                    + ended.path("sentence").asString());
            new StepTree(ended.path("steps"), printer).lines().forEach(line -> printer.line("    " + line));
            return RunPrinter.exitCode(ended);
        }
        return 0;
    }

    /** What people did to a chain. */
    private void course(JsonNode chain) {
        JsonNode held = chain.path("held");
        if (held.has("person")) {
            String why = held.path("why").asString("");
            line("held by", held.path("person").asString() + (why.isEmpty() ? "" : ": " + why));
        }
        if (chain.path("round").asInt(1) > 1) {
            line("round", chain.path("round").asString());
        }
        line(
                "longest way",
                chain.path("critical").valueStream().map(JsonNode::asString).collect(Collectors.joining(" > ")));
    }

    private void line(String title, String text) {
        if (!text.isEmpty()) {
            printer.line("  %-16s %s".formatted(title, text));
        }
    }
}
