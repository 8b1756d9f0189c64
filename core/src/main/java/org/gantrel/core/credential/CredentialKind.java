package org.gantrel.core.credential;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;

/** What kind of identity a credential is: which facts it has, which may be left out, and which secret it keeps. */
public enum CredentialKind {
    ACCOUNT("account", List.of("account"), List.of(), List.of()),
    HTTP_BASIC("http-basic", List.of("user"), List.of(), List.of("password")),
    HTTP_BEARER("http-bearer", List.of(), List.of(), List.of("token")),
    HTTP_HEADER("http-header", List.of("header"), List.of(), List.of("value")),
    DATABASE("database", List.of("url"), List.of("user"), List.of("password")),
    MAIL("mail", List.of("host", "port", "from"), List.of("encryption", "user"), List.of("password")),
    SECRET("secret", List.of(), List.of(), List.of("value"));

    private static final int LONGEST = 20_000;

    private final String word;
    private final List<String> needed;
    private final List<String> optional;
    private final List<String> secrets;

    CredentialKind(String word, List<String> needed, List<String> optional, List<String> secrets) {
        this.word = word;
        this.needed = needed;
        this.optional = optional;
        this.secrets = secrets;
    }

    /** The word for it in the command line and in JSON. */
    public String word() {
        return word;
    }

    public static Optional<CredentialKind> of(String word) {
        return Arrays.stream(values()).filter(kind -> kind.word.equals(word)).findFirst();
    }

    public static List<String> words() {
        return Arrays.stream(values()).map(CredentialKind::word).toList();
    }

    /** The facts that it must have. */
    public List<String> needed() {
        return needed;
    }

    /** The facts that it may have. */
    public List<String> optional() {
        return optional;
    }

    /** What it keeps sealed; one of them is enough. */
    public List<String> secrets() {
        return secrets;
    }

    /** What is wrong with the facts of a credential of this kind. */
    public List<Problem> complaints(Map<String, String> facts) {
        List<String> known = Stream.concat(needed.stream(), optional.stream()).toList();
        var problems = new ArrayList<Problem>();
        facts.forEach((name, value) -> {
            if (!known.contains(name)) {
                problems.add(Problem.of(
                        name,
                        "a credential of the kind " + word + " has no such fact"
                                + (known.isEmpty() ? "" : "; it has " + String.join(", ", known))
                                + Nearest.hint(name, known)));
            } else if (value.length() > LONGEST || value.indexOf('\0') >= 0) {
                problems.add(Problem.of(name, "is too long: at most " + LONGEST + " characters"));
            } else if (name.equals("port") && !value.matches("[1-9]\\d{0,4}")) {
                problems.add(Problem.of(name, "'" + value + "' is no port: 1 to 65535"));
            }
        });
        needed.stream()
                .filter(name -> facts.getOrDefault(name, "").isBlank())
                .forEach(name ->
                        problems.add(Problem.of(name, "is missing; a credential of the kind " + word + " needs it")));
        return problems;
    }

    /** What is wrong with the secret parts of a credential of this kind. */
    public List<Problem> secretComplaints(Map<String, String> given) {
        var problems = new ArrayList<Problem>();
        given.keySet().stream()
                .filter(name -> !secrets.contains(name))
                .forEach(name -> problems.add(Problem.of(
                        name,
                        "a credential of the kind " + word + " keeps no such secret"
                                + (secrets.isEmpty() ? "" : "; it keeps " + String.join(" or ", secrets)))));
        given.forEach((name, value) -> {
            if (value.isEmpty() || value.length() > LONGEST) {
                problems.add(Problem.of(name, "1 to " + LONGEST + " characters would be right"));
            }
        });
        if (!secrets.isEmpty() && given.isEmpty()) {
            problems.add(Problem.of(
                    secrets.get(0), "is missing; a credential of the kind " + word + " keeps a " + secrets.get(0)));
        }
        return problems;
    }
}
