package org.gantrel.client.credential;

import java.io.IOException;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.client.ListCommand;
import org.gantrel.client.NounCommand;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Column;
import org.gantrel.client.output.Printer;
import org.gantrel.client.output.Times;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Credentials. A secret is read from standard input or asked for; it is never an argument, which all can see. */
@Command(
        name = "credential",
        description = "Identities that runs act as. What is secret of them goes in and never comes out.",
        subcommands = {
            CredentialCommand.Listing.class,
            CredentialCommand.Show.class,
            CredentialCommand.Keep.class,
            CredentialCommand.Rotate.class,
            CredentialCommand.Try.class,
            CredentialCommand.Delete.class,
            CredentialCommand.RotateKey.class
        },
        footer = {
            "",
            "Examples:",
            "  gantrel credential create tickets --team revenue --kind database --fact user=settle \\",
            "      --fact url=jdbc:postgresql://db.example.org/tickets --secret-stdin < password",
            "  gantrel credential create harbour-host --team harbour --kind ssh --fact host=harbour.example.org \\",
            "      --fact user=night --fact host-key='ssh-ed25519 AAAA...' --secret-file key=id_ed25519",
            "  gantrel credential create batch --team revenue --kind account --fact account=batch",
            "  gantrel credential test tickets",
            "  gantrel credential rotate tickets        asks for the new secret"
        })
public final class CredentialCommand extends NounCommand {

    private static final String PATH = "/api/v1/credentials/";

    @Command(name = "list", description = "Lists the credentials that you may know of.")
    static final class Listing extends ListCommand {

        @Override
        public Integer call() {
            List<JsonNode> rows = new ArrayList<>();
            api().get("/api/v1/credentials").forEach(rows::add);
            rows.stream()
                    .filter(row -> row.has("warning"))
                    .forEach(row -> Printer.say(row.path("warning").asString()));
            return print(
                    rows,
                    List.of(
                            Column.of("NAME", "name"),
                            Column.of("TEAM", "team"),
                            Column.of("KIND", "kind"),
                            new Column("USED BY", row -> Words.count(row.path("usedBy"))),
                            Column.of("EXPIRES", "expiresOn"),
                            Column.time("LAST USED", "usedAt"),
                            Column.of("ABOUT", "about")),
                    "there is no credential that you may see; 'gantrel credential create' makes one");
        }
    }

    @Command(name = "show", description = "Shows a credential: its facts, who may use it, which jobs do.")
    static final class Show extends ListCommand {

        @Parameters(paramLabel = "NAME", description = "The credential.")
        private String name;

        @Override
        public Integer call() {
            JsonNode found = api().get(PATH + Api.encode(name));
            if (format != org.gantrel.client.output.Format.table) {
                printer.json(found);
                return 0;
            }
            printer.line(
                    found.path("name").asString() + "  " + found.path("kind").asString() + " of the team "
                            + found.path("team").asString());
            found.path("facts")
                    .properties()
                    .forEach(fact -> printer.line(
                            "  " + fact.getKey() + ": " + fact.getValue().asString()));
            printer.line("  keeps: " + Words.list(found.path("keeps"), "nothing secret"));
            printer.line("  for the teams: "
                    + Words.list(found.path("teams"), "its own")
                    + (found.path("jobs").isEmpty() ? "" : "; only the jobs " + Words.list(found.path("jobs"), "")));
            printer.line("  used by: " + Words.list(found.path("usedBy"), "no job"));
            printer.line("  rosters drawn with it: " + Words.list(found.path("drawnBy"), "none"));
            printer.line("  rotated: " + Times.local(found, "rotatedAt"));
            if (found.has("warning")) {
                Printer.say(found.path("warning").asString());
            }
            return 0;
        }
    }

    @Command(name = "create", description = "Keeps a new credential, or with --replace changes one.")
    static final class Keep extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "What definitions call it.")
        private String name;

        @Option(names = "--team", required = true, paramLabel = "TEAM", description = "The team that keeps it.")
        private String team;

        @Option(
                names = "--kind",
                required = true,
                paramLabel = "KIND",
                description = "account, ssh, http-basic, http-bearer, http-header, database, mail or secret.")
        private String kind;

        @Option(names = "--about", paramLabel = "TEXT", defaultValue = "", description = "What it is for.")
        private String about;

        @Option(
                names = "--fact",
                paramLabel = "NAME=VALUE",
                description = "What is not secret of it; as often as needed.")
        private Map<String, String> facts = Map.of();

        @Option(names = "--for-team", paramLabel = "TEAM", description = "Another team whose jobs may use it.")
        private List<String> teams = List.of();

        @Option(names = "--for-job", paramLabel = "JOB", description = "Only these jobs may use it.")
        private List<String> jobs = List.of();

        @Option(names = "--expires", paramLabel = "DATE", description = "When it stops working.")
        private String expires;

        @Mixin
        private SecretOptions secret;

        @Option(names = "--replace", description = "Changes the credential that has this name; its secret stays.")
        private boolean replace;

        @Override
        public Integer call() throws IOException {
            var body = new LinkedHashMap<String, Object>();
            body.put("team", team);
            body.put("kind", kind);
            body.put("about", about);
            body.put("facts", facts);
            body.put("teams", teams);
            body.put("jobs", jobs);
            body.put("expiresOn", expires);
            if (!replace) {
                body.put("secrets", kind.equals("account") ? Map.of() : secret.read(kind));
            }
            Map<String, String> headers = replace ? Map.of("If-Match", "*") : Map.of();
            api().put(PATH + Api.encode(name), body, headers);
            Printer.say("the credential " + name + " is kept; 'gantrel credential test " + name + "' tries it");
            return 0;
        }
    }

    @Command(name = "rotate", description = "Puts a new secret in the place of the old one.")
    static final class Rotate extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The credential.")
        private String name;

        @Mixin
        private SecretOptions secret;

        @Override
        public Integer call() throws IOException {
            JsonNode known = api().get(PATH + Api.encode(name));
            api().post(
                            PATH + Api.encode(name) + "/rotate",
                            Map.of("secrets", secret.read(known.path("kind").asString())));
            Printer.say("the credential " + name + " has a new secret; used by: "
                    + Words.list(known.path("usedBy"), "no job"));
            return 0;
        }
    }

    @Command(name = "test", description = "Really signs in with a credential, and does nothing more.")
    static final class Try extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The credential.")
        private String name;

        @Override
        public Integer call() {
            JsonNode result = api().post(PATH + Api.encode(name) + "/test", Map.of());
            boolean works = result.path("works").asBoolean();
            printer.line((works ? "works: " : "does not work: ")
                    + result.path("said").asString());
            return works ? 0 : 1;
        }
    }

    @Command(name = "delete", description = "Deletes a credential that no job uses.")
    static final class Delete extends ServiceCommand {

        @Parameters(paramLabel = "NAME", description = "The credential.")
        private String name;

        @Override
        public Integer call() {
            api().delete(PATH + Api.encode(name));
            Printer.say("the credential " + name + " is deleted");
            return 0;
        }
    }

    @Command(
            name = "rotate-key",
            description = "Makes a new key for the whole service and seals every secret again under it.")
    static final class RotateKey extends ServiceCommand {

        @Override
        public Integer call() {
            JsonNode done = api().post("/api/v1/keys/rotation", Map.of());
            Printer.say(
                    "sealed again under a new key: " + done.path("credentials").asString()
                            + " credentials, the values of " + done.path("runs").asString() + " runs");
            return 0;
        }
    }

    /** Lists of names as people say them. */
    private static final class Words {

        private Words() {}

        static String list(JsonNode names, String none) {
            var all = new ArrayList<String>();
            names.forEach(name -> all.add(name.asString()));
            return all.isEmpty() ? none : String.join(", ", all);
        }

        static String count(JsonNode names) {
            return names.isEmpty() ? "" : names.size() == 1 ? names.path(0).asString() : names.size() + " jobs";
        }
    }
}
