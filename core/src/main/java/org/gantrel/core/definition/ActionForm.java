package org.gantrel.core.definition;

import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import org.gantrel.core.action.Action;
import org.gantrel.core.action.Checks;
import org.gantrel.core.action.Checks.Check;
import org.gantrel.core.action.Checks.Expectation;
import org.gantrel.core.action.Checks.Subject;
import org.gantrel.core.action.Command;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.MailMessage;
import org.gantrel.core.action.Outside;
import org.gantrel.core.action.Request;
import org.gantrel.core.action.Sql;
import org.gantrel.core.job.Job;
import org.gantrel.core.parameter.Parameters;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.yaml.Section;

/** Reads what a task does. */
final class ActionForm {

    private static final int LONGEST_ADDRESS = 2_000;
    private static final int MOST_HOSTS = 20;
    private static final Action NOTHING = Command.of("-");

    /** The key that says what kind of work it is. */
    private static final List<String> KINDS =
            List.of("command", "shell", "request", "sql", "checks", "files", "mail", "outside");

    static final List<String> EXPECTATIONS = List.of("equals", "at-least", "at-most", "contains");

    /** What is looked at, with the keys that go with it alone. */
    static final Map<String, List<String>> LOOKED_AT = new TreeMap<>(Map.of(
            "sql", List.of(),
            "request",
                    List.of(
                            "headers",
                            "expect",
                            "patience",
                            "method",
                            "body",
                            "json",
                            "take",
                            "faster-than",
                            "certificate-days",
                            "header",
                            "at",
                            "from"),
            "file", List.of("newer-than", "larger-than")));

    private final Parameters parameters;

    /** The names that expressions may use: the parameters, and what earlier requests of the same task take. */
    private final List<String> names;

    ActionForm(Parameters parameters) {
        this.parameters = parameters;
        this.names = new ArrayList<>(parameters.names());
    }

    Action read(Section section) {
        if (section.isText("does")
                && section.text("does", 100).filter("outside"::equals).isPresent()) {
            return new Outside(Outside.USUALLY_WITHIN);
        }
        Optional<Section> does = section.section("does");
        if (does.isEmpty()) {
            section.complain("does", "is missing: what the task does, such as does: { command: [ ./settle.sh ] }");
            return NOTHING;
        }
        Section form = does.get();
        List<String> kinds = KINDS.stream().filter(form::has).toList();
        if (kinds.size() > 1) {
            form.complain(kinds.get(1), "only one of these may stand here: " + String.join(", ", KINDS));
            return NOTHING;
        }
        if (kinds.isEmpty()) {
            Optional<String> misspelt = form.keys().stream()
                    .filter(key -> Nearest.to(key, KINDS).isPresent())
                    .findFirst();
            misspelt.ifPresentOrElse(
                    key -> form.unknown(key, KINDS),
                    () -> form.complain("", "is missing what is done: one of " + String.join(", ", KINDS)));
            return NOTHING;
        }
        return switch (kinds.get(0)) {
            case "request" -> request(form);
            case "sql" -> new SqlForm(parameters).read(form);
            case "checks" -> checks(form);
            case "files" -> new FilesForm(parameters).read(form);
            case "mail" -> letter(form);
            case "outside" -> outside(form);
            default -> command(form);
        };
    }

    private static Action outside(Section form) {
        form.knowing("outside");
        Optional<Section> own = form.section("outside");
        own.ifPresent(section -> section.knowing("start-within"));
        return new Outside(own.flatMap(section -> CommonForm.duration(section, "start-within", "P30D"))
                .orElse(Outside.USUALLY_WITHIN));
    }

    private Action command(Section form) {
        form.knowing("command", "shell", "in", "environment", "secrets", "input", "shows", "from");
        List<String> arguments = arguments(form);
        String folder = text(form, "in", 1_000);
        Map<String, String> environment = texts(form, "environment");
        environment.keySet().forEach(name -> variable(form, "environment", name));
        Map<String, String> secrets = form.map("secrets", Job.LONGEST_NAME);
        secrets.forEach((name, credential) -> {
            variable(form, "secrets", name);
            if (!credential.matches(Job.NAME)) {
                form.complain("secrets", "'" + credential + "' is no name of a credential; a value has no place here");
            }
        });
        Command.Input input = CommonForm.word(form, "input", List.of("values"))
                .map(word -> Command.Input.VALUES)
                .orElse(Command.Input.NONE);
        Optional<GitSource> from = GitSourceForm.read(form, names);
        if (from.isPresent()) {
            GitSourceForm.within(form, "in", folder);
            arguments.stream().limit(1).forEach(program -> GitSourceForm.within(form, "command", program));
        }
        return arguments.isEmpty()
                ? NOTHING
                : new Command(arguments, folder, environment, secrets, input, form.texts("shows", 100), from);
    }

    private static void variable(Section form, String key, String name) {
        if (!name.matches("[A-Za-z_][A-Za-z0-9_]*")) {
            form.complain(key, "'" + name + "' is no name for a variable");
        }
        if (name.startsWith("GANTREL_")) {
            form.complain(key, "'" + name + "': variables that begin with GANTREL_ are the service's own");
        }
    }

    private List<String> arguments(Section form) {
        if (form.has("shell")) {
            String line = text(form, "shell", CommonForm.LONGEST_TEXT);
            return line.isBlank() ? List.of() : Command.shell(line);
        }
        if (!form.isList("command")) {
            form.complain(
                    "command", "a list is expected, such as [ ./settle.sh, --day, today ]; for a shell write 'shell:'");
            return List.of();
        }
        List<String> arguments = form.texts("command", CommonForm.LONGEST_TEXT);
        if (arguments.isEmpty() || arguments.get(0).isBlank()) {
            form.complain("command", "the program is missing");
            return List.of();
        }
        arguments.forEach(argument -> CommonForm.check(form, "command", argument, names));
        return arguments;
    }

    private Request request(Section form) {
        form.knowing(
                "request", "method", "headers", "body", "json", "expect", "save-to", "take", "patience", "to-table");
        return request(form, "request");
    }

    private Request request(Section form, String key) {
        String address = address(form, key);
        Map<String, String> take = form.map("take", CommonForm.LONGEST_LINE);
        take.forEach((name, pointer) -> {
            CommonForm.valueName(form, "take", name);
            if (!pointer.startsWith("/")) {
                form.complain("take", "'" + pointer + "' is no JSON pointer; one begins with /, such as /open/0/name");
            }
        });
        List<String> expect = form.isList("expect")
                ? form.texts("expect", 20)
                : form.text("expect", 20).map(List::of).orElse(Request.USUAL);
        expect.stream()
                .filter(range -> !range.matches("[1-5]\\d\\d(-[1-5]\\d\\d)?"))
                .forEach(range -> form.complain("expect", "'" + range + "' is no status such as 200 or 200-299"));
        Map<String, String> headers = texts(form, "headers");
        String body = text(form, "body", CommonForm.LONGEST_TEXT);
        if (form.has("json")) {
            if (form.has("body")) {
                form.complain("json", "the payload is written as 'json' or as 'body', not both");
            }
            body = form.value("json", CommonForm.LONGEST_TEXT).map(JsonForm::of).orElse("");
            CommonForm.check(form, "json", body, names);
            headers = withJson(headers);
        }
        return new Request(
                CommonForm.word(form, "method", Request.METHODS).orElse(form.has("json") ? "POST" : "GET"),
                address,
                headers,
                body,
                expect,
                text(form, "save-to", CommonForm.LONGEST_LINE),
                take,
                CommonForm.duration(form, "patience", "PT1H").orElse(Request.USUAL_PATIENCE),
                table(form));
    }

    private Optional<Sql.ToTable> table(Section form) {
        Optional<Sql.ToTable> table = form.section("to-table").map(section -> TableForm.read(section, names));
        if (table.filter(each -> each.database().isEmpty()).isPresent()) {
            form.complain("to-table", "database is missing: the credential of the database that has the table");
        }
        return table;
    }

    private static Map<String, String> withJson(Map<String, String> headers) {
        if (headers.keySet().stream().anyMatch("Content-Type"::equalsIgnoreCase)) {
            return headers;
        }
        var more = new LinkedHashMap<>(headers);
        more.put("Content-Type", "application/json");
        return more;
    }

    private String address(Section form, String key) {
        String address = text(form, key, LONGEST_ADDRESS);
        if (!address.matches("(?i)https?://.+") && !address.startsWith("${")) {
            form.complain(key, "'" + address + "' is no address; one begins with http:// or https://");
        }
        return address;
    }

    private Checks checks(Section form) {
        form.knowing("checks", "from");
        Optional<GitSource> from = GitSourceForm.read(form, names);
        var checks = new ArrayList<Check>();
        for (Section each : form.sections("checks")) {
            knowing(each);
            check(each, each.needed("name", 120, "what is expected, in a few words"))
                    .ifPresent(check -> {
                        if (from.isPresent() && check.subject() instanceof Checks.FileState file) {
                            GitSourceForm.within(each, "file", file.path());
                        } else if (from.isEmpty()) {
                            CommonForm.fullPath(each, "file", parameters.names());
                        }
                        checks.add(check);
                        names.addAll(check.take().keySet());
                    });
        }
        if (checks.isEmpty()) {
            form.complain(
                    "checks",
                    "a list of at least one expectation is needed, such as"
                            + " [ { name: kiosk answers, request: \"http://kiosk.example.org/\" } ]");
        }
        return new Checks(checks, from);
    }

    /** Complains of what does not go with the one thing that is looked at. */
    private static void knowing(Section check) {
        List<String> words = new ArrayList<>(List.of("name"));
        List<String> subjects = subjects(check);
        if (subjects.size() == 1) {
            words.addAll(List.of(subjects.get(0), "acts-as"));
            words.addAll(LOOKED_AT.get(subjects.get(0)));
            words.addAll(EXPECTATIONS);
        } else {
            words.addAll(LOOKED_AT.keySet());
        }
        check.knowing(words, LOOKED_AT);
    }

    private static List<String> subjects(Section check) {
        return LOOKED_AT.keySet().stream().filter(check::has).toList();
    }

    /** One expectation, whose keys the caller has looked at. */
    Optional<Check> check(Section form, String name) {
        var expectation = new Expectation(
                optional(form, "equals"),
                optional(form, "at-least"),
                optional(form, "at-most"),
                optional(form, "contains"));
        expectation
                .wrongLimit()
                .ifPresent(limit -> form.complain(
                        form.has("at-least") ? "at-least" : "at-most",
                        "'" + limit + "' is no number, date or time to compare with"));
        String credential = form.has("acts-as") ? CommonForm.name(form, "acts-as", "the name of a credential") : "";
        return subject(form).map(subject -> new Check(name, credential, subject, expectation));
    }

    private Optional<Subject> subject(Section form) {
        List<String> subjects = subjects(form);
        if (subjects.size() != 1) {
            form.complain("name", "it looks at one thing: sql, request or file");
            return Optional.empty();
        }
        return switch (subjects.get(0)) {
            case "sql" -> Optional.of(new Checks.QueryValue(text(form, "sql", CommonForm.LONGEST_TEXT), null));
            case "request" -> Optional.of(new Checks.Answer(request(form, "request"), limits(form)));
            default ->
                Optional.of(new Checks.FileState(
                        text(form, "file", 1_000),
                        CommonForm.duration(form, "newer-than", "P3650D"),
                        CommonForm.size(form, "larger-than")));
        };
    }

    private Checks.AnswerLimits limits(Section form) {
        String at = form.text("at", CommonForm.LONGEST_LINE).orElse("");
        if (!at.isEmpty() && !at.startsWith("/")) {
            form.complain("at", "'" + at + "' is no JSON pointer; one begins with /, such as /open/0/name");
        }
        return new Checks.AnswerLimits(
                CommonForm.duration(form, "faster-than", Duration.ofMillis(1), "PT1H"),
                form.text("certificate-days", 10).flatMap(text -> {
                    if (!text.matches("[1-9]\\d{0,3}")) {
                        form.complain("certificate-days", "'" + text + "': a number of days such as 14 is expected");
                        return Optional.empty();
                    }
                    return Optional.of(Integer.parseInt(text));
                }),
                texts(form, "header"),
                at,
                hosts(form));
    }

    /** The hosts that something is asked from, by their credentials. */
    private static List<String> hosts(Section form) {
        List<String> hosts = form.texts("from", Job.LONGEST_NAME);
        hosts.stream()
                .filter(host -> !host.matches(Job.NAME))
                .forEach(host -> form.complain("from", "'" + host + "' is no name of a credential"));
        if (hosts.size() > MOST_HOSTS || Set.copyOf(hosts).size() < hosts.size()) {
            form.complain("from", "at most " + MOST_HOSTS + " hosts, each once");
        }
        return hosts;
    }

    private MailMessage letter(Section form) {
        form.knowing("mail", "to", "copy", "text", "attach");
        List<String> to = list(form, "to");
        if (to.isEmpty()) {
            form.complain("to", "is missing: the addresses that it goes to");
        }
        to.stream()
                .filter(address -> !address.contains("${") && !CommonForm.isAddress(address))
                .forEach(address -> form.complain("to", "'" + address + "' is no mail address"));
        return new MailMessage(
                to,
                list(form, "copy"),
                text(form, "mail", CommonForm.LONGEST_LINE),
                text(form, "text", CommonForm.LONGEST_TEXT),
                list(form, "attach"));
    }

    private Optional<String> optional(Section form, String key) {
        return form.has(key) ? Optional.of(text(form, key, CommonForm.LONGEST_LINE)) : Optional.empty();
    }

    private List<String> list(Section form, String key) {
        List<String> texts = form.texts(key, 1_000);
        texts.forEach(each -> CommonForm.check(form, key, each, names));
        return texts;
    }

    private Map<String, String> texts(Section form, String key) {
        Map<String, String> texts = form.map(key, CommonForm.LONGEST_TEXT);
        texts.values().forEach(each -> CommonForm.check(form, key, each, names));
        return texts;
    }

    private String text(Section form, String key, int longest) {
        String text = form.text(key, longest).orElse("");
        CommonForm.check(form, key, text, names);
        return text;
    }
}
