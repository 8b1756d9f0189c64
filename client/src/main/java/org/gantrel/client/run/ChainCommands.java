package org.gantrel.client.run;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.StepTree;
import picocli.CommandLine.ArgGroup;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** What people do to the runs of chains. */
final class ChainCommands {

    private ChainCommands() {}

    private static Map<String, Object> noted(String note) {
        var body = new LinkedHashMap<String, Object>();
        if (!note.isEmpty()) {
            body.put("note", note);
        }
        return body;
    }

    private static void steps(JsonNode seen, Printer printer) {
        new StepTree(seen.path("steps"), printer).lines().forEach(printer::line);
    }

    /** Leaves out a step. */
    @Command(
            name = "skip-step",
            description = "Leaves out a step of a chain, and goes on with what follows it.",
            footer = {"", "Example:", "  gantrel run skip-step 4711 report --note \"sent by hand\""})
    static final class SkipStep extends ServiceCommand {

        @Parameters(paramLabel = "NUMBER", description = "The run of the chain.")
        private long number;

        @Parameters(paramLabel = "STEP", description = "The step.")
        private String step;

        @Option(names = "--note", paramLabel = "TEXT", defaultValue = "", description = "Why.")
        private String note;

        @Override
        public Integer call() {
            JsonNode seen = api().post("/api/v1/runs/" + number + "/steps/" + Api.encode(step) + "/skip", noted(note));
            steps(seen, printer);
            return 0;
        }
    }

    /** Answers the question of a step. */
    @Command(
            name = "decide",
            description = "Answers where a chain asks whether to go on.",
            footer = {"", "Example:", "  gantrel run decide 4711 sign --approve --note \"looks right\""})
    static final class Decide extends ServiceCommand {

        /** One of the two. */
        static final class Choice {
            @Option(names = "--approve", required = true, description = "Lets it go on.")
            private boolean approve;

            @Option(names = "--refuse", required = true, description = "Lets the step fail.")
            private boolean refuse;
        }

        @Parameters(paramLabel = "NUMBER", description = "The run of the chain.")
        private long number;

        @Parameters(paramLabel = "STEP", description = "The step that asks.")
        private String step;

        @ArgGroup(multiplicity = "1")
        private Choice choice;

        @Option(names = "--note", paramLabel = "TEXT", defaultValue = "", description = "Why.")
        private String note;

        @Override
        public Integer call() {
            Map<String, Object> body = noted(note);
            body.put("approve", choice.approve);
            JsonNode seen = api().post("/api/v1/runs/" + number + "/steps/" + Api.encode(step) + "/decision", body);
            Printer.say((choice.approve ? "approved" : "refused") + " step " + step + " of run " + number);
            steps(seen, printer);
            return 0;
        }
    }

    /** Lists what waits for an answer. */
    @Command(
            name = "approvals",
            description = "Lists where chains ask whether to go on.",
            footer = {"", "Example:", "  gantrel run approvals"})
    static final class Approvals extends ServiceCommand {

        @Option(
                names = "--format",
                paramLabel = "FORMAT",
                defaultValue = "table",
                description = "table, json or csv (table).")
        private Format format;

        @Override
        public Integer call() {
            List<JsonNode> open = api().get("/api/v1/approvals").valueStream().toList();
            printer.list(
                    open,
                    List.of(
                            Column.of("RUN", "run"),
                            Column.of("JOB", "job"),
                            Column.of("STEP", "step"),
                            Column.of("ASKS", "asks"),
                            Column.of("OF", "of"),
                            Column.time("UNTIL", "until"),
                            new Column("YOURS", row -> row.path("mayDecide").asBoolean() ? "yes" : "no")),
                    format,
                    "no chain asks anything");
            return 0;
        }
    }

    /** Has a chain begin nothing for a while. */
    @Command(
            name = "hold",
            description = "Has a chain begin no further step until it is let go, while something is repaired.",
            footer = {"", "Example:", "  gantrel run hold 4711 --note \"the bank is down\""})
    static final class Hold extends ServiceCommand {

        @Parameters(paramLabel = "NUMBER", description = "The run of the chain.")
        private long number;

        @Option(names = "--note", paramLabel = "TEXT", defaultValue = "", description = "Why.")
        private String note;

        @Override
        public Integer call() {
            api().put("/api/v1/runs/" + number + "/hold", noted(note));
            Printer.say("run " + number + " begins no further step; 'gantrel run let-go " + number + "' lets it go on");
            return 0;
        }
    }

    /** Lets a chain go on that was held. */
    @Command(name = "let-go", description = "Lets a chain go on that somebody held.")
    static final class LetGo extends ServiceCommand {

        @Parameters(paramLabel = "NUMBER", description = "The run of the chain.")
        private long number;

        @Override
        public Integer call() throws IOException {
            api().delete("/api/v1/runs/" + number + "/hold");
            Printer.say("run " + number + " goes on");
            return 0;
        }
    }
}
