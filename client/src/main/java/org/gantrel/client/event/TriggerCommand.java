package org.gantrel.client.event;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.KeyValues;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.ShowCommand;
import org.gantrel.client.TextFile;
import org.gantrel.client.Wrong;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What starts jobs upon events. */
@Command(
        name = "trigger",
        description = "Triggers: the events that start jobs.",
        subcommands = {
            TriggerCommand.Listing.class,
            TriggerCommand.Show.class,
            TriggerCommand.On.class,
            TriggerCommand.Off.class,
            TriggerCommand.Test.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel trigger list",
            "  gantrel trigger show build-sailings tides-came      what came of the last events",
            "  gantrel trigger off build-sailings tides-came",
            "  gantrel trigger test build-sailings tides-came --with name=w48.csv --with size=120",
            "  gantrel trigger test sell-tickets rung --event call.json"
        })
public final class TriggerCommand extends NounCommand {

    private static final String PATH = "/api/v1/triggers";

    @Command(name = "list", description = "Lists triggers with what came of the last event.")
    static final class Listing extends ListCommand {

        @Option(names = "--job", paramLabel = "JOB", description = "Those of one job.")
        private String job = "";

        @Override
        public Integer call() {
            JsonNode all = api().get(PATH + "?job=" + job);
            return print(
                    all.valueStream().toList(),
                    List.of(
                            Column.of("JOB", "job"),
                            Column.of("NAME", "name"),
                            new Column("SWITCH", row -> row.path("switchedOn").asBoolean() ? "on" : "off"),
                            Column.of("STARTS", "words"),
                            new Column("LAST", row -> Times.local(row.path("last"), "at")),
                            new Column("CAME OF IT", row -> came(row.path("last"))),
                            Column.of("TROUBLE", "trouble")),
                    "no job has a trigger");
        }
    }

    private static String came(JsonNode firing) {
        if (!firing.has("outcome")) {
            return "";
        }
        String run = firing.has("run") ? " run " + firing.path("run").asLong() : "";
        return firing.path("outcome").asString() + run;
    }

    /** One trigger is named by its job and its own name. */
    abstract static class OfOne extends ServiceCommand {

        @Parameters(index = "0", paramLabel = "JOB", description = "The job that it starts.")
        private String job;

        @Parameters(index = "1", paramLabel = "NAME", description = "The trigger.")
        private String name;

        String one() {
            return PATH + "/" + job + "/" + name;
        }

        String words() {
            return "the trigger " + name + " of " + job;
        }
    }

    @Command(name = "show", description = "Shows a trigger, and what came of the last events.")
    static final class Show extends ShowCommand {

        @Parameters(index = "0", paramLabel = "JOB", description = "The job that it starts.")
        private String job;

        @Parameters(index = "1", paramLabel = "NAME", description = "The trigger.")
        private String name;

        @Override
        protected String path() {
            return PATH + "/" + job + "/" + name;
        }

        @Override
        protected void show(JsonNode page) {
            JsonNode trigger = page.path("trigger");
            printer.line(printer.strong(job + " / " + name) + "  starts "
                    + trigger.path("words").asString());
            if (!trigger.path("switchedOn").asBoolean()) {
                printer.line("  off     since " + Times.local(trigger, "offAt") + ", by "
                        + trigger.path("offBy").asString());
            }
            line("trouble", trigger.path("trouble").asString(""));
            line("looked", Times.local(trigger, "lookedAt"));
            line("address", page.path("address").asString(""));
            line("shell", page.path("shell").asString(""));
            page.path("firings")
                    .forEach(each -> printer.line("  %s  event %d  %-20s %s"
                            .formatted(
                                    Times.local(each, "at"),
                                    each.path("event").asLong(),
                                    came(each),
                                    each.path("why").asString(""))
                            .stripTrailing()));
        }

        private void line(String label, String text) {
            if (!text.isEmpty()) {
                printer.line("  %-8s%s".formatted(label, text));
            }
        }
    }

    @Command(name = "on", description = "Switches a trigger on.")
    static final class On extends OfOne {
        @Override
        public Integer call() {
            api().put(one() + "/switch", Map.of("on", true));
            Printer.say(words() + " is on");
            return 0;
        }
    }

    @Command(name = "off", description = "Switches a trigger off: events that come meanwhile start nothing.")
    static final class Off extends OfOne {
        @Override
        public Integer call() {
            api().put(one() + "/switch", Map.of("on", false));
            Printer.say(words() + " is off; 'gantrel trigger on' switches it on again");
            return 0;
        }
    }

    @Command(
            name = "test",
            description = {
                "Says what would start if such an event came, with which values, or why nothing would. Starts nothing.",
                "The exit code is 0 where something would start, and 1 where nothing would."
            })
    static final class Test extends OfOne {

        @Option(
                names = "--event",
                paramLabel = "FILE",
                description = "What the event says, as an object of JSON; - for the standard input.")
        private String file = "";

        @Option(names = "--with", paramLabel = "FIELD=VALUE", description = "A field of the event; may be given often.")
        private List<String> fields = List.of();

        @Option(
                names = "--format",
                paramLabel = "FORMAT",
                defaultValue = "table",
                description = "table or json (table).")
        private Format format;

        @Override
        public Integer call() throws IOException {
            Map<String, Object> event = new LinkedHashMap<>(read());
            event.putAll(KeyValues.of(fields));
            JsonNode trial = api().post(one() + "/trial", Map.of("event", event));
            boolean starts = trial.path("starts").asBoolean();
            if (format == Format.json) {
                printer.json(trial);
            } else {
                printer.line(
                        starts
                                ? trial.path("job").asString() + " would start at " + Times.local(trial, "at")
                                : trial.path("job").asString() + " would not start");
                trial.path("with")
                        .propertyStream()
                        .forEach(value -> printer.line("  with " + value.getKey() + " = "
                                + value.getValue().asString()));
                String why = trial.path("why").asString("");
                if (!why.isEmpty()) {
                    printer.line("  " + why);
                }
                trial.path("unknown").forEach(each -> Printer.say("warning: " + each.asString()));
            }
            return starts ? 0 : 1;
        }

        private Map<String, Object> read() throws IOException {
            if (file.isEmpty()) {
                return Map.of();
            }
            String text = TextFile.read(Path.of(file));
            try {
                JsonNode read = JsonMapper.shared().readTree(text);
                if (!read.isObject()) {
                    throw new Wrong(file + " holds no object of JSON, such as {\"name\": \"w48.csv\"}");
                }
                Map<String, Object> fieldsRead = new LinkedHashMap<>();
                read.propertyStream().forEach(each -> fieldsRead.put(each.getKey(), each.getValue()));
                return fieldsRead;
            } catch (JacksonException e) {
                throw new Wrong(file + " is no JSON at line " + e.getLocation().getLineNr() + ", column "
                        + e.getLocation().getColumnNr() + "; an object such as {\"name\": \"w48.csv\"} is expected");
            }
        }
    }
}
