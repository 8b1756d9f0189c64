package org.gantrel.client.run;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Lists the outputs of a run, or fetches one. */
@Command(
        name = "outputs",
        description = "Lists the files that a run left behind, or fetches one.",
        footer = {
            "",
            "Examples:",
            "  gantrel run outputs 1042",
            "  gantrel run outputs 1042 --get sales.pdf --to /tmp/sales.pdf"
        })
final class RunOutputs extends ListCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--get", paramLabel = "NAME", description = "Fetches this output.")
    private String name;

    @Option(
            names = "--to",
            paramLabel = "FILE",
            description = "Where it goes (its own name here; - for standard output).")
    private Path target;

    @Override
    public Integer call() throws IOException {
        String path = "/api/v1/runs/" + number + "/outputs";
        if (name != null) {
            return fetch(path);
        }
        List<JsonNode> rows = new ArrayList<>();
        api().get(path).forEach(rows::add);
        return print(
                rows,
                List.of(Column.of("NAME", "name"), Column.of("BYTES", "bytes")),
                "run " + number + " left no outputs");
    }

    private int fetch(String path) throws IOException {
        Path file = target == null ? Path.of(name).getFileName() : target;
        boolean toOutput = file.toString().equals("-");
        if (!toOutput && Files.exists(file)) {
            throw new Wrong("there is a file " + file + " already; --to names another");
        }
        try (InputStream in = api().stream(Api.path(path + "/file", Map.of("name", name)))) {
            if (toOutput) {
                in.transferTo(System.out);
                System.out.flush();
            } else {
                Files.copy(in, file);
                Printer.say("kept as " + file);
            }
        }
        return 0;
    }
}
