package org.gantrel.client;

import java.util.List;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** A command that prints a list. */
public abstract class ListCommand extends ServiceCommand {

    @Option(
            names = "--format",
            paramLabel = "FORMAT",
            defaultValue = "table",
            description = "table, json or csv (table). JSON is the API's own.")
    protected Format format;

    protected int print(List<JsonNode> rows, List<Column> columns, String whenEmpty) {
        printer.list(rows, columns, format, whenEmpty);
        return 0;
    }
}
