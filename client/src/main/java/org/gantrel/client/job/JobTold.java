package org.gantrel.client.job;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Says who would be told. */
@Command(
        name = "told",
        description = "Says who would be told of what, when, by what and why.",
        footer = {
            "",
            "Examples:",
            "  gantrel job told settle-tickets",
            "  gantrel job told settle-tickets --what failed --at 2026-11-29T03:00+01:00     on Sunday at 03:00"
        })
final class JobTold extends ListCommand {

    @Parameters(paramLabel = "NAME", description = "The job.")
    private String name;

    @Option(
            names = "--what",
            paramLabel = "WHAT",
            description = "What is supposed to happen, such as failed, late or recovered; all where none is named.")
    private String what = "";

    @Option(names = "--at", paramLabel = "TIME", description = "When it is supposed to happen (now).")
    private String at;

    /** Lines that differ in nothing but of what somebody is told are one for people. */
    private List<JsonNode> grouped(List<JsonNode> lines) {
        if (format != Format.table) {
            return lines;
        }
        Map<String, ObjectNode> groups = new LinkedHashMap<>();
        for (JsonNode line : lines) {
            String key = line.path("who") + "|" + line.path("reached") + "|" + line.path("by") + "|" + line.path("when")
                    + "|" + line.path("rule");
            ObjectNode group = groups.get(key);
            if (group == null) {
                groups.put(key, ((ObjectNode) line).deepCopy());
            } else {
                group.put(
                        "what",
                        group.path("what").asString() + ", " + line.path("what").asString());
            }
        }
        return List.copyOf(groups.values());
    }

    @Override
    public Integer call() {
        Map<String, Object> asked = new LinkedHashMap<>();
        asked.put("what", what);
        if (at != null) {
            asked.put("at", Times.since(at).toString());
        }
        JsonNode told = api().get(Api.path("/api/v1/jobs/" + Api.encode(name) + "/told", asked));
        List<JsonNode> lines = new ArrayList<>();
        told.path("lines").forEach(lines::add);
        if (format == Format.json) {
            printer.json(told);
        } else {
            print(
                    grouped(lines),
                    List.of(
                            Column.of("OF", "what"),
                            Column.of("WHO", "who"),
                            Column.of("THAT IS", "reached"),
                            Column.of("BY", "by"),
                            Column.time("REACHED AT", "at"),
                            Column.of("WHEN", "when"),
                            Column.of("RULE", "rule")),
                    "nobody is told of anything that happens to " + name);
        }
        told.path("warnings").forEach(warning -> Printer.say("gantrel: warning: " + warning.asString()));
        return 0;
    }
}
