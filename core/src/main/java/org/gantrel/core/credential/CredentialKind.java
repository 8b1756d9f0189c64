package org.gantrel.core.credential;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
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
    /** Another host, reached by SSH; the host key is what its {@code .pub} file holds (RFC 4253, section 6.6). */
    SSH("ssh", List.of("host", "user"), List.of("port", "host-key"), List.of("key", "passphrase", "password")),
    SECRET("secret", List.of(), List.of(), List.of("value"));

    private static final int LONGEST = 20_000;

    private static final Pattern PORT =
            Pattern.compile("[1-9]\\d{0,3}|[1-5]\\d{4}|6([0-4]\\d{3}|5([0-4]\\d{2}|5([0-2]\\d|3[0-5])))");

    /** A name (RFC 1123, 2.1), or an address of IPv4 or IPv6, also with its zone (RFC 4007, 11). */
    private static final Pattern HOST = Pattern.compile("[A-Za-z0-9_:][A-Za-z0-9_.:-]*(%[A-Za-z0-9_.-]+)?");

    private static final Pattern HOST_KEY =
            Pattern.compile("(ssh-ed25519|ssh-rsa|ecdsa-sha2-nistp(256|384|521)) [A-Za-z0-9+/]{40,}={0,2}( .*)?");

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

    /** Whether a text may be the name or the address of a host. */
    public static boolean isHost(String text) {
        return HOST.matcher(text).matches();
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
            } else if (name.equals("port") && !PORT.matcher(value).matches()) {
                problems.add(Problem.of(name, "'" + value + "' is no port: 1 to 65535"));
            } else if (this == SSH && name.equals("host") && !value.isBlank() && !isHost(value)) {
                problems.add(Problem.of(
                        name,
                        "'" + value + "' is no host: its name or its address, such as harbour.example.org, 192.0.2.7 or"
                                + " 2001:db8::7, would be right; a port is a fact of its own"));
            } else if (name.equals("host-key") && !HOST_KEY.matcher(value).matches()) {
                problems.add(Problem.of(
                        name,
                        "is no host key: its type and its base64, such as 'ssh-ed25519 AAAA...', as the host has it in"
                                + " /etc/ssh/ssh_host_ed25519_key.pub, would be right"));
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
        List<String> proofs =
                secrets.stream().filter(name -> !name.equals("passphrase")).toList();
        if (!proofs.isEmpty() && Set.of("passphrase").containsAll(given.keySet())) {
            problems.add(Problem.of(
                    proofs.get(0),
                    "is missing; a credential of the kind " + word + " keeps a " + String.join(" or a ", proofs)));
        }
        if (given.containsKey("key") && !given.get("key").contains("PRIVATE KEY-----")) {
            problems.add(
                    Problem.of("key", "is no private key: the text of a file as ssh-keygen(1) makes it is wanted"));
        }
        return problems;
    }
}
