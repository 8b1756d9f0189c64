package org.gantrel.client.team;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.LoginCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Accounts of people. */
@Command(
        name = "person",
        description = "Accounts of people.",
        subcommands = {
            PersonCommand.Listing.class,
            PersonCommand.Create.class,
            PersonCommand.Password.class,
            PersonCommand.Shut.class,
            PersonCommand.Open.class
        })
public final class PersonCommand extends NounCommand {

    @Command(name = "list", description = "Lists the accounts.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/people").forEach(rows::add);
            return print(
                    rows,
                    List.of(
                            Column.of("NAME", "name"),
                            Column.of("FULL NAME", "fullName"),
                            new Column(
                                    "ADMINISTRATOR",
                                    row -> row.path("administrator").asBoolean() ? "yes" : ""),
                            new Column("SHUT", row -> row.path("shut").asBoolean() ? "yes" : "")),
                    "there is no account");
        }
    }

    @Command(name = "create", description = "Makes an account.")
    static final class Create extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The name to sign in with, such as mara.holt.")
        private String name;

        @Option(names = "--full-name", paramLabel = "TEXT", defaultValue = "", description = "The person's name.")
        private String fullName;

        @Option(names = "--administrator", description = "Makes an administrator of the whole service.")
        private boolean administrator;

        @Option(names = "--password-stdin", description = "Reads the password from standard input.")
        private boolean fromInput;

        @Override
        public Integer call() throws IOException {
            String password = LoginCommand.secret(fromInput, "Password for " + name + ": ");
            api().post(
                            "/api/v1/people",
                            Map.of(
                                    "name",
                                    name,
                                    "fullName",
                                    fullName,
                                    "password",
                                    password,
                                    "administrator",
                                    administrator));
            Printer.say("made the account " + name);
            return 0;
        }
    }

    @Command(
            name = "password",
            description = "Gives an account another password: yours, or as administrator anybody's.")
    static final class Password extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The account.")
        private String name;

        @Option(
                names = "--password-stdin",
                description =
                        "Reads the passwords from standard input: the old one, unless it is another's, and the new"
                                + " one, a line each.")
        private boolean fromInput;

        @Override
        public Integer call() throws IOException {
            boolean own = api().get("/api/v1/me").path("name").asString().equals(name);
            String old = own ? LoginCommand.secret(fromInput, "Old password of " + name + ": ") : "";
            String password = LoginCommand.secret(fromInput, "New password for " + name + ": ");
            String path = "/api/v1/people/" + Api.encode(name) + "/password";
            if (!own) {
                api().put(path, Map.of("password", password));
                Printer.say("the password of " + name + " is changed; what " + name + " was signed in with has ended");
                return 0;
            }
            // a token is not enough for one's own: that takes a session, which the old password opens
            service().withoutToken().session(name, old).put(path, Map.of("password", password, "old", old));
            LoginCommand.signIn(service(), name, password);
            Printer.say("your password is changed; all else that was signed in as " + name + " has ended");
            return 0;
        }
    }

    /** Shuts an account or opens it. */
    abstract static class Turn extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The account.")
        private String name;

        abstract boolean shut();

        @Override
        public Integer call() {
            api().put("/api/v1/people/" + Api.encode(name) + "/shut", Map.of("shut", shut()));
            Printer.say("the account " + name + " is " + (shut() ? "shut" : "open"));
            return 0;
        }
    }

    @Command(name = "shut", description = "Shuts an account: it can do nothing, and what it did stays known.")
    static final class Shut extends Turn {
        @Override
        boolean shut() {
            return true;
        }
    }

    @Command(name = "open", description = "Opens an account that was shut.")
    static final class Open extends Turn {
        @Override
        boolean shut() {
            return false;
        }
    }
}
