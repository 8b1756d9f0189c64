package org.gantrel.client.definition;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.concurrent.Callable;
import java.util.stream.Stream;
import org.gantrel.client.NounCommand;
import org.gantrel.client.TextFile;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.DefinitionSchema;
import org.gantrel.core.definition.Definitions;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Words;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** What can be had of definition files without a service. */
@Command(
        name = "definition",
        description = "Looks at definition files by themselves; it needs no service.",
        synopsisSubcommandLabel = "COMMAND",
        subcommands = {DefinitionCommand.Check.class, DefinitionCommand.PrintSchema.class})
public final class DefinitionCommand extends NounCommand {

    private static final JsonMapper JSON = JsonMapper.builder().build();

    /** What both verbs have. */
    abstract static class Verb implements Callable<Integer> {

        @Option(
                names = {"-h", "--help"},
                usageHelp = true,
                description = "Shows this help.")
        private boolean help;

        final Printer printer = new Printer();
    }

    @Command(
            name = "schema",
            description =
                    "Prints the JSON Schema (2020-12) of a definition, for editors that complete and check by one.",
            footer = {
                "",
                "Examples:",
                "  gantrel definition schema > gantrel.schema.json",
                "",
                "A service has it at /api/definition.schema.json. It knows the keys, the shapes of their values and the",
                "words that some take; 'gantrel definition check' knows more."
            })
    static final class PrintSchema extends Verb {

        @Override
        public Integer call() {
            printer.json(JSON.valueToTree(DefinitionSchema.all()));
            return 0;
        }
    }

    @Command(
            name = "check",
            description =
                    "Says what is wrong with definition files by themselves, each at its line. Nothing is brought in.",
            footer = {
                "",
                "Examples:",
                "  gantrel definition check settle.yaml",
                "  gantrel definition check definitions/ --format json",
                "",
                "Exit codes: 0 where nothing is wrong, 1 where something is. What they name (teams, jobs, calendars,",
                "credentials) is looked at by 'gantrel import --dry-run', which asks the service."
            })
    static final class Check extends Verb {

        @Parameters(
                paramLabel = "FILE|DIR",
                arity = "1..*",
                description = "Files, or folders of .yaml, .yml and .json files; - for standard input.")
        private List<Path> paths;

        @Option(
                names = "--format",
                paramLabel = "FORMAT",
                defaultValue = "table",
                description = "table, json or csv (table).")
        private Format format;

        @Override
        public Integer call() throws IOException {
            List<Path> files = DefinitionFiles.of(paths);
            Looked looked = look(files);
            List<JsonNode> wrong = looked.wrong();
            if (format == Format.table) {
                wrong.forEach(row -> printer.line(line(row)));
            } else {
                printer.list(
                        wrong,
                        Stream.of("file", "line", "column", "field", "message")
                                .map(key -> Column.of(key.toUpperCase(Locale.ROOT), key))
                                .toList(),
                        format,
                        "");
            }
            if (wrong.isEmpty()) {
                Printer.say(Words.count(looked.read(), "definition") + " in " + Words.count(files.size(), "file")
                        + ": nothing is wrong by itself; what is named in them was not looked at, 'gantrel import"
                        + " --dry-run' does that");
            }
            return wrong.isEmpty() ? 0 : 1;
        }

        /** What is wrong, in the order of the files and their lines, and how many definitions there are where nothing is. */
        record Looked(List<JsonNode> wrong, int read) {}

        static Looked look(List<Path> files) {
            List<JsonNode> wrong = new ArrayList<>();
            int read = 0;
            for (Path file : files) {
                String name = DefinitionFiles.name(file);
                try {
                    read += count(DefinitionReader.read(TextFile.read(file)));
                } catch (InvalidException e) {
                    e.problems().stream()
                            .sorted(Comparator.comparingInt(Problem::line).thenComparingInt(Problem::column))
                            .forEach(problem -> wrong.add(row(name, problem)));
                }
            }
            return new Looked(wrong, read);
        }

        private static int count(Definitions all) {
            return Stream.of(all.jobs(), all.calendars(), all.rosters(), all.lanes(), all.tellings())
                    .mapToInt(List::size)
                    .sum();
        }

        private static JsonNode row(String file, Problem problem) {
            Map<String, Object> row = new LinkedHashMap<>();
            row.put("file", file);
            row.put("line", problem.line());
            row.put("column", problem.column());
            row.put("field", problem.field());
            row.put("message", problem.message());
            return JSON.valueToTree(row);
        }

        static String line(JsonNode row) {
            String field = row.path("field").asString();
            int at = row.path("line").asInt();
            String place = at == 0 ? "" : at + ":" + row.path("column").asInt() + ":";
            return row.path("file").asString() + ":" + place + " " + (field.isEmpty() ? "" : field + ": ")
                    + row.path("message").asString();
        }
    }
}
