package org.gantrel.client;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import org.gantrel.client.output.Column;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;

/** Who changed what. */
@Command(name = "change", description = "The audit record.", subcommands = ChangeCommand.Listing.class)
final class ChangeCommand extends NounCommand {

    @Command(name = "list", description = "Lists who changed what, newest first.")
    static final class Listing extends SortedList {

        @Option(names = "--person", paramLabel = "NAME", description = "Only what this person did.")
        private String person;

        @Option(names = "--kind", paramLabel = "KIND", description = "Only of things of a kind, such as job.")
        private String kind;

        @Option(names = "--name", paramLabel = "NAME", description = "Only of the thing of this name.")
        private String name;

        @Option(names = "--team", paramLabel = "TEAM", description = "Only of what belongs to this team.")
        private String team;

        @Override
        public Integer call() {
            return print(
                    api().list("/api/v1/changes", filter(), limit),
                    List.of(
                            Column.time("AT", "at"),
                            Column.of("PERSON", "person"),
                            Column.of("DID", "deed"),
                            Column.of("KIND", "kind"),
                            Column.of("NAME", "name"),
                            Column.of("TEAM", "team"),
                            Column.of("DETAIL", "detail")),
                    person == null && kind == null && name == null && team == null
                            ? "nothing was changed yet"
                            : "nothing is like that");
        }

        private Map<String, String> filter() {
            Map<String, String> filter = new LinkedHashMap<>();
            filter.put("person", person);
            filter.put("kind", kind);
            filter.put("name", name);
            filter.put("team", team);
            filter.put("sort", sort);
            filter.values().removeIf(Objects::isNull);
            return filter;
        }
    }
}
