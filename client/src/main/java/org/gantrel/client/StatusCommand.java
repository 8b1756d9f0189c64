package org.gantrel.client;

import java.util.Map;
import org.gantrel.client.api.Api;
import org.gantrel.client.hold.HoldCommand;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** Says whether everything is all right. */
@Command(
        name = "status",
        description = "Says how the day goes and what needs attention. Exits 1 where something does.",
        footer = {"", "Example:", "  gantrel status --zone Europe/Oslo"})
final class StatusCommand extends ServiceCommand {

    @Option(
            names = "--zone",
            paramLabel = "ZONE",
            description = "The zone whose day is meant (that of most schedules, the same for everybody).")
    private String zone;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() {
        JsonNode today = api().get(Api.path("/api/v1/today", zone == null ? Map.of() : Map.of("zone", zone)));
        JsonNode attention = today.path("attention");
        JsonNode aside = today.path("setAside");
        JsonNode deadlines = today.path("deadlines");
        JsonNode silences = today.path("silences");
        if (format == Format.json) {
            printer.json(today);
        } else {
            printer.line(printer.strong(today.path("sentence").asString()) + "  (the day of "
                    + today.path("zone").asString() + ")");
            attention.forEach(this::print);
            deadlines.forEach(this::printDeadline);
            silences.forEach(this::printSilence);
            aside.forEach(this::printAside);
            today.path("holds").forEach(hold -> printer.line("  " + HoldCommand.line(hold)));
            if (today.path("moreHolds").asInt() > 0) {
                printer.line("  and " + today.path("moreHolds").asInt() + " more: gantrel hold list");
            }
        }
        return attention.isEmpty() && aside.isEmpty() && deadlines.isEmpty() && silences.isEmpty() ? 0 : 1;
    }

    private void printDeadline(JsonNode each) {
        boolean late = each.path("state").asString().equals("late");
        printer.line("  " + each.path("job").asString() + " "
                + printer.state(late ? "missed" : "warned")
                        .replace("missed", "late")
                        .replace("warned", "at risk")
                + ": its deadline is " + Times.local(each, "deadline")
                + (each.has("late")
                        ? ", " + (late ? "missed" : "to be missed") + " by " + Times.duration(each, "late")
                        : "")
                + (each.has("because") ? ": " + each.path("because").asString() : "")
                + (each.has("run") ? "  [run " + each.path("run").asLong() + "]" : ""));
    }

    private void printSilence(JsonNode each) {
        String seen = each.path("seenBy").asString("");
        printer.line("  " + each.path("job").asString() + " "
                + printer.state("missed").replace("missed", "silent") + ": "
                + each.path("message").asString()
                + (seen.isEmpty()
                        ? "  ('gantrel silence take " + each.path("id").asLong() + "' says that you see to it)"
                        : "  (" + seen + " sees to it)"));
    }

    private void printAside(JsonNode each) {
        printer.line("  set aside since " + Times.local(each, "since") + ": "
                + each.path("name").asString() + ": "
                + each.path("reason").asString() + "  ('gantrel aside retry "
                + each.path("kind").asString() + " "
                + each.path("id").asLong() + "' tries it again)");
    }

    private void print(JsonNode each) {
        JsonNode run = each.path("run");
        int inARow = each.path("inARow").asInt();
        String often = inARow > 1
                ? " " + inARow + " times in a row since " + Times.local(each, "since")
                : " " + Times.local(run, "plannedAt");
        String by =
                run.path("takenBy").asString(each.path("fault").path("seenBy").asString(""));
        String taken = by.isEmpty() ? "" : "  (" + by + " sees to it)";
        printer.line("  " + run.path("job").asString() + " "
                + printer.state(run.path("state").asString()) + often + ": "
                + run.path("message").asString("") + taken + "  [run "
                + run.path("number").asLong() + "]");
    }
}
