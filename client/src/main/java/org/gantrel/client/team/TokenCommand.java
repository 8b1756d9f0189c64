package org.gantrel.client.team;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Tokens for programs. */
@Command(
        name = "token",
        description = "Tokens, with which programs sign in.",
        subcommands = {TokenCommand.Create.class, TokenCommand.Listing.class, TokenCommand.Revoke.class})
public final class TokenCommand extends NounCommand {

    @Command(name = "create", description = "Makes a token and prints it, this once.")
    static final class Create extends ServiceCommand {

        @Option(names = "--name", paramLabel = "NAME", required = true, description = "What it is for.")
        private String name;

        @Option(names = "--days", paramLabel = "N", defaultValue = "90", description = "How long it holds (90).")
        private int days;

        @Override
        public Integer call() {
            JsonNode answer = api().post("/api/v1/tokens", Map.of("name", name, "days", days));
            printer.line(answer.path("token").asString());
            Printer.say("shown this once; programs give it as GANTREL_TOKEN");
            return 0;
        }
    }

    @Command(name = "list", description = "Lists your tokens.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/tokens").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("ID", "id"),
                            Column.of("NAME", "name"),
                            Column.time("EXPIRES", "expiresAt"),
                            Column.time("LAST USED", "lastUsedAt")),
                    "you have no token");
        }
    }

    @Command(name = "revoke", description = "Makes a token worthless.")
    static final class Revoke extends ServiceCommand {

        @Parameters(paramLabel = "ID", description = "The token's id, as 'token list' shows it.")
        private long id;

        @Override
        public Integer call() {
            api().delete("/api/v1/tokens/" + id);
            Printer.say("token " + id + " is worth nothing any more");
            return 0;
        }
    }
}
