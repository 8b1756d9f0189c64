package org.gantrel.client;

import org.gantrel.client.output.Format;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** A command that shows one thing: for people, or as the API's own JSON. */
public abstract class ShowCommand extends ServiceCommand {

    @Option(names = "--format", paramLabel = "FORMAT", defaultValue = "table", description = "table or json (table).")
    private Format format;

    /** Where it is found. */
    protected abstract String path();

    /** Prints it for people. */
    protected abstract void show(JsonNode shown);

    @Override
    public Integer call() {
        JsonNode shown = api().get(path());
        if (format == Format.json) {
            printer.json(shown);
        } else {
            show(shown);
        }
        return 0;
    }
}
