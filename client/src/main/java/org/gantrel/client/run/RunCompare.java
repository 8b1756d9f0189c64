package org.gantrel.client.run;

import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Two runs side by side. */
@Command(
        name = "compare",
        description = "Shows two runs side by side: in what they differ, and by how much.",
        footer = {
            "",
            "Examples:",
            "  gantrel run compare 1042                 with the good run of its job before it",
            "  gantrel run compare 1017 1042 --all"
        })
final class RunCompare extends ListCommand {

    @Parameters(index = "0", paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Parameters(
            index = "1",
            arity = "0..1",
            paramLabel = "OTHER",
            description = "The one that it is compared with (the latest run of its job before it that ended well).")
    private Long other;

    @Option(names = "--all", description = "Also what is alike.")
    private boolean all;

    @Override
    public Integer call() {
        JsonNode named = run(number);
        JsonNode first = other == null ? run(goodBefore(named)) : named;
        JsonNode second = other == null ? named : run(other);
        List<JsonNode> rows = RunFacts.beside(facts(first), facts(second), all);
        String one = "run " + first.path("number").asString();
        String another = "run " + second.path("number").asString();
        return print(
                rows,
                List.of(Column.of("WHAT", "what"), column(one, "one"), column(another, "other"), Column.of("BY", "by")),
                one + " and " + another + " are alike in all that is compared");
    }

    private static Column column(String run, String field) {
        return new Column(run.toUpperCase(Locale.ROOT), row -> said(row, field), row -> row.path(field)
                .asString());
    }

    private JsonNode run(long wanted) {
        return api().get("/api/v1/runs/" + wanted);
    }

    private RunFacts facts(JsonNode run) {
        return new RunFacts(run, api().get("/api/v1/runs/" + run.path("number").asLong() + "/why"));
    }

    private long goodBefore(JsonNode run) {
        Map<String, Object> filter = new HashMap<>();
        filter.put("job", run.path("job").asString());
        filter.put("state", "succeeded,warned");
        filter.put("until", run.path("plannedAt").asString());
        return api().list("/api/v1/runs", filter, 10).stream()
                .map(each -> each.path("number").asLong())
                .filter(each -> each != number)
                .findFirst()
                .orElseThrow(() -> new Wrong("no run of " + run.path("job").asString() + " before run " + number
                        + " ended well; name the one to compare it with"));
    }

    private static String said(JsonNode row, String field) {
        return switch (row.path("kind").asString()) {
            case "duration" -> Times.duration(row, field);
            case "time" -> Times.local(row, field);
            default -> row.path(field).asString();
        };
    }
}
