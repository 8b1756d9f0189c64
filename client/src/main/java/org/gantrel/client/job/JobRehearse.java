package org.gantrel.client.job;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import org.gantrel.client.ListCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
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
            "It exits 1 where something would go wrong."
        })
final class JobRehearse extends ListCommand {

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

    @Override
    public Integer call() {
        var body = new LinkedHashMap<String, Object>();
        body.put("parameters", JobStart.parameters(values));
        body.put("at", at);
        JsonNode found = api().post("/api/v1/jobs/" + Api.encode(name) + "/rehearsal", body);
        if (format == Format.json) {
            printer.json(found);
        } else {
            List<JsonNode> lines = new ArrayList<>();
            found.path("lines").forEach(lines::add);
            Printer.say(name + ", planned for " + found.path("plannedAt").asString() + " ("
                    + found.path("zone").asString() + ")"
                    + (found.path("actsAs").asString("").isEmpty()
                            ? ""
                            : ", as " + found.path("actsAs").asString()));
            found.path("parameters")
                    .properties()
                    .forEach(value -> Printer.say(
                            "  " + value.getKey() + " = " + value.getValue().asString()));
            print(
                    lines,
                    List.of(
                            new Column("", row -> mark(row.path("kind").asString()), row -> row.path("kind")
                                    .asString()),
                            Column.of("WHAT", "what"),
                            Column.of("TEXT", "text")),
                    "it would do nothing");
            Printer.say(
                    found.path("fine").asBoolean() ? "nothing was found that would go wrong" : "this would go wrong");
        }
        return found.path("fine").asBoolean() ? 0 : 1;
    }

    private static String mark(String kind) {
        return switch (kind) {
            case "fine" -> "ok";
            case "wrong" -> "!!";
            default -> "";
        };
    }
}
