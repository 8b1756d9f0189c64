package org.gantrel.client.telling;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.TextFile;
import org.gantrel.client.Wrong;
import org.gantrel.client.output.Format;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Wordings: how messages are said. */
@Command(
        name = "wording",
        description = "Wordings: the subject and the text of a team's messages, as templates.",
        subcommands = {
            TellingVerbs.Listing.class,
            TellingVerbs.Show.class,
            TellingVerbs.Log.class,
            TellingVerbs.PutBack.class,
            TellingVerbs.Retire.class,
            WordingCommand.Preview.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel wording preview short --run 1042",
            "  gantrel wording preview --file short.yaml --run 1042      one that is not saved yet"
        })
public final class WordingCommand extends NounCommand {

    @Command(name = "preview", description = "Shows what the message about a run would say.")
    static final class Preview extends ServiceCommand {

        @Parameters(arity = "0..1", paramLabel = "NAME", description = "The wording.")
        private String name;

        @Option(names = "--file", paramLabel = "FILE", description = "A definition that is not saved yet.")
        private Path file;

        @Option(names = "--run", paramLabel = "NUMBER", required = true, description = "The run.")
        private long run;

        @Option(
                names = "--format",
                paramLabel = "FORMAT",
                defaultValue = "table",
                description = "table or json (table).")
        private Format format;

        @Override
        public Integer call() throws IOException {
            if (name == null == (file == null)) {
                throw new Wrong("either a name or --file says which wording is meant");
            }
            Map<String, Object> body = new LinkedHashMap<>();
            body.put("run", run);
            if (file == null) {
                body.put("name", name);
            } else {
                body.put("definition", TextFile.read(file));
            }
            JsonNode shown = api().post("/api/v1/wording-previews", body);
            if (format == Format.json) {
                printer.json(shown);
            } else {
                printer.line(printer.strong(shown.path("subject").asString()));
                printer.line("");
                printer.line(shown.path("text").asString().stripTrailing());
            }
            return 0;
        }
    }
}
