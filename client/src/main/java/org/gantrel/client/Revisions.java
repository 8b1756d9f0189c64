package org.gantrel.client;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Difference;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** What a thing was defined as from one change to the next: listed, shown, compared, and put back. */
public final class Revisions {

    private Revisions() {}

    private static JsonNode numbered(List<JsonNode> all, int number, String name) {
        return all.stream()
                .filter(each -> each.path("revision").asInt() == number)
                .findFirst()
                .orElseThrow(() -> new Wrong(name + " has no revision " + number + "; its latest is "
                        + (all.isEmpty() ? "none" : all.get(0).path("revision").asString())));
    }

    private static List<JsonNode> all(Api api, String path) {
        List<JsonNode> rows = new ArrayList<>();
        api.get(path + "/revisions").forEach(rows::add);
        return rows;
    }

    /** Lists them, or shows one, or what is different between two. */
    public abstract static class Listing extends ListCommand {

        @Parameters(paramLabel = "NAME", description = "Which.")
        private String name;

        @Option(names = "--show", paramLabel = "N", description = "Prints the definition of a revision.")
        private Integer show;

        @Option(
                names = "--compare",
                paramLabel = "N[..M]",
                description = "Prints what is different between a revision and the latest, or between two.")
        private String compare;

        /** The path under which such things are found. */
        protected abstract String path();

        @Override
        public Integer call() {
            List<JsonNode> rows = all(api(), path() + Api.encode(name));
            if (show != null) {
                printer.line(
                        numbered(rows, show, name).path("definition").asString().stripTrailing());
                return 0;
            }
            if (compare != null) {
                return compare(rows);
            }
            return print(
                    rows,
                    List.of(
                            Column.of("REVISION", "revision"),
                            Column.of("MADE BY", "madeBy"),
                            Column.time("AT", "madeAt")),
                    "there is no revision");
        }

        private int compare(List<JsonNode> rows) {
            if (!compare.matches("\\d{1,6}(\\.\\.\\d{1,6})?")) {
                throw new Wrong("--compare " + compare + ": a revision such as 3, or two such as 3..5");
            }
            String[] ends = compare.split("\\.\\.");
            JsonNode one = numbered(rows, Integer.parseInt(ends[0]), name);
            JsonNode other = ends.length == 1 ? rows.get(0) : numbered(rows, Integer.parseInt(ends[1]), name);
            List<String> lines = Difference.between(
                    title(one),
                    one.path("definition").asString(),
                    title(other),
                    other.path("definition").asString());
            lines.forEach(printer::line);
            if (lines.isEmpty()) {
                Printer.say("there is no difference");
            }
            return 0;
        }

        private String title(JsonNode revision) {
            return name + " revision " + revision.path("revision").asString() + " by "
                    + revision.path("madeBy").asString();
        }
    }

    /** Makes an earlier revision the latest again. */
    public abstract static class PutBack extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "NAME", description = "Which.")
        private String name;

        @Parameters(index = "1", paramLabel = "N", description = "The revision.")
        private int number;

        protected abstract String path();

        @Override
        public Integer call() {
            String path = path() + Api.encode(name);
            Api.Answer now = api().getTagged(path);
            JsonNode earlier = numbered(all(api(), path), number, name);
            if (now.body()
                    .path("definition")
                    .asString()
                    .equals(earlier.path("definition").asString())) {
                Printer.say(name + " is as it was in revision " + number + " already");
                return 0;
            }
            JsonNode put = api().put(
                            path,
                            Map.of("definition", earlier.path("definition").asString()),
                            Map.of("If-Match", now.tag().orElse("*")));
            Printer.say(name + " is as it was in revision " + number + " again; that is revision "
                    + put.path("revision").asString());
            put.path("warnings").forEach(warning -> Printer.say("gantrel: warning: " + warning.asString()));
            return 0;
        }
    }
}
