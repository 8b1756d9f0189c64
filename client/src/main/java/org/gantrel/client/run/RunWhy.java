package org.gantrel.client.run;

import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Says why a run is there, and why it does not start. */
@Command(
        name = "why",
        description = {
            "Says why a run is there, for what it waits and waited, and what would have to happen for it to start.",
            "Of a start that never came, 'gantrel schedule why' tells."
        },
        footer = {"", "Example:", "  gantrel run why 1042"})
final class RunWhy extends ServiceCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() {
        JsonNode why = api().get("/api/v1/runs/" + number + "/why");
        if (format == Format.json) {
            printer.json(why);
            return 0;
        }
        printer.line(printer.state(why.path("state").asString()) + "  "
                + why.path("exists").asString());
        boolean row = why.path("state").asString().equals("running");
        line(row ? "next row waits for" : "waits for", why.path("waitsFor").asString(""));
        line(row ? "would begin when" : "would start when", why.path("toStart").asString(""));
        line("keeps", why.path("keeps").asString(""));
        why.path("inTheWay")
                .forEach(other -> line(
                        "in the way",
                        "run " + other.path("run").asString("-") + " of "
                                + other.path("job").asString("another team") + ", since "
                                + Times.local(other, "since")));
        line(
                "gates",
                why.path("gatesSkipped").asString("").isEmpty()
                        ? ""
                        : "skipped by " + why.path("gatesSkipped").asString());
        if (!why.path("waits").isEmpty()) {
            printer.line("  waited");
        }
        why.path("waits")
                .forEach(wait -> printer.line("    %-10s %-8s %s"
                        .formatted(
                                Times.duration(wait, "took"),
                                wait.path("kind").asString(),
                                wait.path("what").asString())));
        if (!why.path("gates").isEmpty()) {
            printer.line("  gates as they were seen last");
        }
        why.path("gates")
                .forEach(gate -> printer.line("    %-5s %s: %s  (%s)"
                        .formatted(
                                gate.path("open").asBoolean() ? "open" : "shut",
                                gate.path("gate").asString(),
                                gate.path("saw").asString(),
                                Times.local(gate, "seenAt"))));
        return 0;
    }

    private void line(String title, String text) {
        if (!text.isEmpty()) {
            printer.line("  %-16s %s".formatted(title, text));
        }
    }
}
