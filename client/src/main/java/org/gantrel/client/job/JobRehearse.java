package org.gantrel.client.job;

import java.util.LinkedHashMap;
import java.util.List;
import org.gantrel.client.KeyValues;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Shows what a run would do. */
@Command(
        name = "rehearse",
        description = "Works out all that a run would do and checks what can be checked; nothing is executed.",
        footer = {
            "",
            "Examples:",
            "  gantrel job rehearse settle-tickets -p route=skarholm",
            "  gantrel job rehearse close-month --at 2026-12-31T22:00:00Z   as if planned for then",
            "  gantrel job rehearse write-to-commuter --over passes-ending",
            "  gantrel job rehearse night-close --suppose settle=failed     a chain's whole way, with a supposed end",
            "It exits 1 where something would go wrong."
        })
final class JobRehearse extends ServiceCommand {

    private static final int INDENT = 26;

    @Parameters(paramLabel = "NAME", description = "The job.")
    private String name;

    @Option(
            names = {"-p", "--parameter"},
            paramLabel = "KEY=VALUE",
            description = "A value; as often as needed.")
    private List<String> values = List.of();

    @Option(
            names = "--at",
            paramLabel = "INSTANT",
            description = "The planned time, such as 2026-12-31T22:00:00Z (now).")
    private String at;

    @Option(
            names = "--over",
            paramLabel = "ROSTER",
            description = "Tries all its rows, and goes on with the first that could begin.")
    private String over;

    @Option(
            names = "--suppose",
            paramLabel = "STEP=END",
            description = "Of a chain: how a step ends, or what it gives: settle=failed, settle.values.total=0.")
    private List<String> suppose = List.of();

    @Option(names = "--look", description = "Also runs programs that can say their version (shows), and nothing else.")
    private boolean look;

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    @Override
    public Integer call() {
        var body = new LinkedHashMap<String, Object>();
        body.put("parameters", KeyValues.of(values));
        body.put("at", at);
        body.put("over", over);
        body.put("look", look);
        body.put("suppose", KeyValues.of(suppose));
        JsonNode found = api().post("/api/v1/jobs/" + Api.encode(name) + "/rehearsal", body);
        if (format == Format.json) {
            printer.json(found);
        } else {
            Printer.say(name + ", planned for "
                    + Times.in(found, "plannedAt", found.path("zone").asString()) + " ("
                    + found.path("zone").asString() + ")"
                    + (found.path("actsAs").asString("").isEmpty()
                            ? ""
                            : ", as " + found.path("actsAs").asString()));
            found.path("parameters")
                    .properties()
                    .forEach(value -> Printer.say(
                            "  " + value.getKey() + " = " + value.getValue().asString()));
            found.path("lines").forEach(line -> printer.line(text(line)));
            Printer.say(verdict(found));
        }
        return found.path("fine").asBoolean() ? 0 : 1;
    }

    private static String verdict(JsonNode found) {
        if (!found.path("fine").asBoolean()) {
            return "this would go wrong";
        }
        return found.path("complete").asBoolean(true)
                ? "nothing was found that would go wrong"
                : "nothing was found that would go wrong in what was tried; lines marked ?? say what was not";
    }

    /** Statements and arguments are shown whole, so that nothing of what would be done is hidden. */
    private static String text(JsonNode line) {
        String mark =
                switch (line.path("kind").asString()) {
                    case "fine" -> "ok";
                    case "wrong" -> "!!";
                    case "untried" -> "??";
                    default -> "  ";
                };
        String indented = line.path("text").asString().strip().replace("\n", "\n" + " ".repeat(INDENT));
        String step = line.path("step").asString("");
        String what = line.path("what").asString();
        String label = step.isEmpty() ? what : what.equals("job") ? "step " + step : "  " + what;
        return "%s %-22s %s".formatted(mark, label, indented);
    }
}
