package org.gantrel.client;

import java.io.BufferedReader;
import java.io.Console;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.util.Map;
import org.gantrel.client.api.SignInFile;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import tools.jackson.databind.JsonNode;

/** Signs in and keeps a token for the commands that follow. */
@Command(
        name = "login",
        description = "Signs in. The token is kept in a file that only you can read.",
        footer = {
            "",
            "Examples:",
            "  gantrel login --name mara.holt",
            "  pass show gantrel | gantrel login --name mara.holt --password-stdin"
        })
public final class LoginCommand extends ServiceCommand {

    /** What was read ahead for one password holds the next. */
    private static final class Input {
        static final BufferedReader LINES =
                new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
    }

    @Option(names = "--name", paramLabel = "NAME", required = true, description = "Your account.")
    private String name;

    @Option(names = "--password-stdin", description = "Reads the password from standard input.")
    private boolean fromInput;

    @Override
    public Integer call() throws IOException {
        signIn(service(), name, secret(fromInput, "Password of " + name + ": "));
        Printer.say("signed in at " + service().url() + " as " + name);
        return 0;
    }

    /** Signs in, and keeps the token for the commands that follow. */
    public static void signIn(Service service, String name, String password) {
        var body = Map.of("name", name, "password", password, "token", "command line");
        JsonNode answer = service.withoutToken().post("/api/v1/sessions", body);
        new SignInFile().keep(service.url(), answer.path("token").asString());
    }

    /** A password from standard input, or asked for without showing it. */
    public static String secret(boolean fromInput, String prompt) throws IOException {
        if (fromInput) {
            String line = Input.LINES.readLine();
            return line == null ? "" : line;
        }
        Console console = System.console();
        if (console == null) {
            throw new Wrong("there is no terminal to ask for the password; give it with --password-stdin");
        }
        char[] read = console.readPassword("%s", prompt);
        return read == null ? "" : new String(read);
    }
}
