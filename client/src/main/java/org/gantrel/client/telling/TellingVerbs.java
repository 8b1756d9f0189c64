package org.gantrel.client.telling;

import java.time.LocalDate;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.Revisions;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.ShowCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Model.CommandSpec;
import picocli.CommandLine.Parameters;
import picocli.CommandLine.Spec;
import tools.jackson.databind.JsonNode;

/** What can be done with rules, duty lists, channels and digests alike; the noun that a verb hangs on says with which. */
final class TellingVerbs {

    private TellingVerbs() {}

    private static String kind(CommandSpec verb) {
        return verb.parent().name();
    }

    private static String path(CommandSpec verb, String name) {
        return "/api/v1/tellings/" + kind(verb) + "/" + Api.encode(name);
    }

    /** A day that somebody typed. */
    static String day(String option, String text) {
        try {
            return LocalDate.parse(text).toString();
        } catch (DateTimeParseException e) {
            throw new Wrong(option + ": '" + text + "' is no day; one is written as 2026-12-24");
        }
    }

    /** Who is on duty from now on. */
    static void watches(Printer printer, JsonNode duty) {
        duty.path("ahead")
                .forEach(watch -> printer.line("    %s to %s  %s%s"
                        .formatted(
                                Times.local(watch, "from"),
                                Times.local(watch, "until"),
                                watch.path("person").asString(),
                                watch.path("cover").asBoolean() ? " (stands in)" : "")));
    }

    @Command(name = "list", description = "Lists them, with what each does.")
    static final class Listing extends ListCommand {

        @Spec
        private CommandSpec spec;

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get(Api.path("/api/v1/tellings", Map.of("kind", kind(spec)))).forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("NAME", "name"),
                            Column.of("TEAM", "team"),
                            Column.of("REVISION", "revision"),
                            Column.of("ON DUTY", "onDuty"),
                            Column.of("WHAT IT DOES", "words")),
                    "there is none yet; a definition that begins with '" + kind(spec) + ": NAME' makes one");
        }
    }

    @Command(name = "show", description = "Shows one with its definition; of a duty list, who is on duty now and next.")
    static final class Show extends ShowCommand {

        @Spec
        private CommandSpec spec;

        @Parameters(paramLabel = "NAME", description = "Which.")
        private String name;

        @Override
        protected String path() {
            return TellingVerbs.path(spec, name);
        }

        @Override
        protected void show(JsonNode shown) {
            printer.line(printer.strong(name) + "  of " + shown.path("team").asString() + ", revision "
                    + shown.path("revision").asString());
            printer.line("  " + shown.path("words").asString());
            watches(printer, shown);
            printer.line("");
            printer.line(shown.path("definition").asString().stripTrailing());
            shown.path("warnings").forEach(warning -> Printer.say("gantrel: warning: " + warning.asString()));
        }
    }

    @Command(name = "revisions", description = "Lists its revisions, shows one, or compares two.")
    static final class Log extends Revisions.Listing {

        @Spec
        private CommandSpec spec;

        @Override
        protected String path() {
            return TellingVerbs.path(spec, "");
        }
    }

    @Command(name = "put-back", description = "Makes an earlier revision the latest again.")
    static final class PutBack extends Revisions.PutBack {

        @Spec
        private CommandSpec spec;

        @Override
        protected String path() {
            return TellingVerbs.path(spec, "");
        }
    }

    @Command(name = "retire", description = "Takes one out of use.")
    static final class Retire extends ServiceCommand {

        @Spec
        private CommandSpec spec;

        @Parameters(paramLabel = "NAME", description = "Which.")
        private String name;

        @Override
        public Integer call() {
            api().delete(path(spec, name));
            Printer.say("the " + kind(spec) + " " + name + " is retired");
            return 0;
        }
    }
}
