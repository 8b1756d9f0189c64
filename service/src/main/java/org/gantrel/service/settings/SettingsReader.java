package org.gantrel.service.settings;

import java.io.IOException;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.gantrel.core.backup.BackupPlan;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Retention;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.text.Durations;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Zones;
import org.gantrel.core.yaml.Section;
import org.gantrel.service.settings.Settings.Mail.Encryption;

/** Reads the settings: options first, then the environment, then {@code gantrel.yaml} in the data folder. */
public final class SettingsReader {

    private static final List<String> KEYS = List.of(
            "address",
            "demo",
            "demo-days",
            "port",
            "url",
            "zone",
            "run-as",
            "databases",
            "http-allow",
            "http-deny",
            "trusted-proxies",
            "tls-cert",
            "tls-key",
            "runs-at-once",
            "sweep-rows",
            "least-free-space",
            "log-limit",
            "grace",
            "keep-runs",
            "keep-logs",
            "keep-events",
            "keep-events-of",
            "keep-changes",
            "memory",
            "backup-to",
            "backup-at",
            "backup-keep",
            "mail-host",
            "mail-port",
            "mail-from",
            "mail-encryption",
            "mail-user",
            "mail-password");

    private static final long SMALLEST_LOG = 1L << 20;

    private static final Pattern MAIL_PLACE = Pattern.compile(
            "(?:\\[(?<v6>[0-9A-Fa-f:.%]+)\\]|(?<bare>[0-9A-Fa-f]*:[0-9A-Fa-f:.%]*:[0-9A-Fa-f:.%]*$)|(?<host>[^:\\[\\]]+))"
                    + "(?::(?<port>\\d{1,5}))?");

    private final Map<String, String> given;
    private final Map<String, String> said;
    private final List<Problem> problems = new ArrayList<>();

    private SettingsReader(Map<String, String> given, Map<String, String> said) {
        this.given = given;
        this.said = Map.copyOf(said);
    }

    /** Letters of a path that would lead the database to another place than everything else. */
    private static final Pattern NO_PLACE = Pattern.compile("[;\\\\\\p{Cntrl}]");

    /** The keys that options, environment ({@code GANTREL_MAIL_HOST}) and file ({@code mail-host}) share. */
    public static List<String> keys() {
        return KEYS;
    }

    /**
     * Reads the settings.
     *
     * @param options what was given on the command line, by key
     * @throws InvalidException with every setting that is wrong
     */
    public static Settings read(Path data, Map<String, String> options, Map<String, String> environment) {
        var problems = new ArrayList<Problem>();
        Map<String, String> given = new HashMap<>(fromFile(data.resolve("gantrel.yaml"), problems));
        Map<String, String> said = new HashMap<>();
        given.keySet().forEach(key -> said.put(key, "gantrel.yaml"));
        for (String key : KEYS) {
            String variable = "GANTREL_" + key.toUpperCase(Locale.ROOT).replace('-', '_');
            Optional.ofNullable(environment.get(variable)).ifPresent(value -> {
                given.put(key, value);
                said.put(key, variable);
            });
        }
        given.putAll(options);
        options.keySet().forEach(key -> said.put(key, "--" + key));
        var reader = new SettingsReader(given, said);
        Settings settings = reader.settings(data);
        problems.addAll(reader.problems);
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return settings;
    }

    private static Map<String, String> fromFile(Path file, List<Problem> problems) {
        if (!Files.exists(file)) {
            return Map.of();
        }
        try {
            return Section.compose(Files.readString(file), problems)
                    .map(section -> fromSection(section.knowing(KEYS.toArray(String[]::new))))
                    .orElse(Map.of());
        } catch (IOException e) {
            problems.add(Problem.of(file.toString(), "cannot be read: " + e.getMessage()));
            return Map.of();
        }
    }

    private static Map<String, String> fromSection(Section section) {
        var map = new HashMap<String, String>();
        KEYS.forEach(key -> section.text(key, 300).ifPresent(text -> map.put(key, text)));
        return map;
    }

    private Settings settings(Path data) {
        // what starts the service has read it already; here it is only checked
        Optional.ofNullable(given.get("memory"))
                .filter(text -> !text.matches("(?i)\\d{1,6}[mg]"))
                .ifPresent(text -> complain("memory", text, "how much memory, such as 320m or 2g,"));
        if (NO_PLACE.matcher(data.toAbsolutePath().toString()).find()) {
            complain("data", data.toString(), "a path without ';', '\\' and control characters");
        }
        Settings usual = Settings.usual(data);
        String address = text("address", usual.address());
        int port = number("port", usual.port(), 0, 65_535);
        ZoneId zone = zone(usual.zone());
        return new Settings(
                data.toAbsolutePath().normalize(),
                address,
                port,
                text(
                        "url",
                        (given.containsKey("tls-cert") ? "https://" : "http://")
                                + Settings.place(named(address), port)),
                zone,
                limits(usual.limits()),
                keep(usual.keep()),
                Optional.ofNullable(given.get("run-as")),
                reach(),
                web(),
                mail(),
                backup(zone),
                Optional.ofNullable(given.get("demo"))
                        .map(folder -> new Settings.Demo(Path.of(folder), number("demo-days", 31, 1, 4_000))),
                said);
    }

    private Optional<Settings.Backup> backup(ZoneId zone) {
        String said = text("backup-at", "02:30");
        LocalTime at = LocalTime.MIDNIGHT;
        if (said.matches("([01]\\d|2[0-3]):[0-5]\\d")) {
            at = LocalTime.parse(said);
        } else {
            complain("backup-at", said, "a time of day, such as 02:30,");
        }
        int keep = number("backup-keep", 7, 1, 1_000);
        var plan = new BackupPlan(at, zone, keep);
        return Optional.ofNullable(given.get("backup-to"))
                .map(folder ->
                        new Settings.Backup(Path.of(folder).toAbsolutePath().normalize(), plan));
    }

    private Settings.Reach reach() {
        List<String> databases = words("databases");
        databases.stream()
                .filter(prefix -> !prefix.matches("jdbc:[a-z0-9]+:.*") || prefix.startsWith("jdbc:h2:"))
                .forEach(prefix -> complain(
                        "databases", prefix, "what addresses begin with, such as jdbc:mariadb://db.example.org/,"));
        return new Settings.Reach(databases, networks("http-allow"), networks("http-deny"));
    }

    private List<String> networks(String key) {
        List<String> networks = words(key);
        networks.stream()
                .filter(network -> !Network.isOne(network))
                .forEach(network -> complain(
                        key, network, "a network such as 10.0.0.0/8, an address, or a host such as *.example.org"));
        return networks;
    }

    private Settings.Web web() {
        List<String> proxies = words("trusted-proxies");
        proxies.stream()
                .filter(proxy -> !proxy.matches("[0-9A-Fa-f.:]+"))
                .forEach(proxy -> complain("trusted-proxies", proxy, "the address of a proxy, such as 10.0.0.5"));
        Optional<Path> certificate = file("tls-cert");
        Optional<Path> key = file("tls-key");
        if (certificate.isPresent() != key.isPresent()) {
            problems.add(Problem.of("tls-cert", "and tls-key belong together: both files, in PEM, or neither"));
        }
        certificate
                .filter(Files::isReadable)
                .flatMap(chain -> key.filter(Files::isReadable).flatMap(own -> TlsFiles.problem(chain, own)))
                .ifPresent(problems::add);
        return new Settings.Web(proxies, certificate, key);
    }

    private Optional<Path> file(String key) {
        Optional<Path> file = Optional.ofNullable(given.get(key)).map(Path::of);
        file.filter(each -> !Files.isReadable(each))
                .ifPresent(each -> complain(key, each.toString(), "a file that can be read"));
        return file;
    }

    private List<String> words(String key) {
        return Arrays.stream(text(key, "").split("[,\\s]+"))
                .filter(word -> !word.isEmpty())
                .toList();
    }

    private Settings.Limits limits(Settings.Limits usual) {
        return new Settings.Limits(
                number("runs-at-once", usual.runsAtOnce(), 1, 1_000),
                number("sweep-rows", usual.sweepRows(), 1, Roster.MOST_ROWS),
                size("least-free-space", usual.leastFreeSpace()),
                logLimit(usual.largestLog()),
                duration("grace", usual.grace()));
    }

    private long logLimit(long usual) {
        long limit = size("log-limit", usual);
        if (limit < SMALLEST_LOG) {
            complain("log-limit", given.get("log-limit"), "at least 1MB");
        }
        return limit;
    }

    private Settings.Keep keep(Settings.Keep usual) {
        return new Settings.Keep(
                new Retention(length("keep-runs"), length("keep-logs")),
                length("keep-events").orElse(usual.events()),
                lengthsOfTypes(),
                length("keep-changes"));
    }

    private Map<String, Duration> lengthsOfTypes() {
        Map<String, Duration> lengths = new TreeMap<>();
        for (String part : text("keep-events-of", "").split(",")) {
            if (part.isBlank()) {
                continue;
            }
            String[] sides = part.split("=", 2);
            String type = sides[0].strip();
            Optional<Duration> length = sides.length < 2 ? Optional.empty() : Durations.parse(sides[1].strip());
            if (length.filter(each -> !each.isNegative() && !each.isZero()).isEmpty()) {
                complain("keep-events-of", part.strip(), "a type and a length, such as signin.*=400 days,");
            } else if (!EventType.isOne(type)) {
                complain(
                        "keep-events-of",
                        type,
                        "a type of event, or what types begin with and a star, such as run.*"
                                + Nearest.hint(type, EventType.words()) + ",");
            } else {
                lengths.put(type, length.get());
            }
        }
        return lengths;
    }

    private Optional<Duration> length(String key) {
        return given.containsKey(key) ? Optional.of(duration(key, Duration.ZERO)) : Optional.empty();
    }

    private ZoneId zone(ZoneId usual) {
        try {
            return given.containsKey("zone") ? Zones.named(given.get("zone")) : usual;
        } catch (InvalidException e) {
            problems.addAll(e.problems());
            return usual;
        }
    }

    private Optional<Settings.Mail> mail() {
        if (!given.containsKey("mail-host")) {
            return Optional.empty();
        }
        int port = number("mail-port", 25, 1, 65_535);
        Encryption encryption = encryption();
        List<String> places = words("mail-host").stream()
                .flatMap(place -> mailPlace(place, port).stream())
                .toList();
        if (places.isEmpty()) {
            return Optional.empty();
        }
        String first = places.get(0);
        int colon = first.lastIndexOf(':');
        return Optional.of(new Settings.Mail(
                first.substring(0, colon),
                Integer.parseInt(first.substring(colon + 1)),
                text("mail-from", "gantrel@localhost"),
                encryption,
                text("mail-user", ""),
                text("mail-password", ""),
                places.subList(1, places.size())));
    }

    /** Where an address can be reached from elsewhere: all addresses of this host are none. */
    private static String named(String address) {
        try {
            return InetAddress.getByName(address).isAnyLocalAddress()
                    ? InetAddress.getLocalHost().getHostName()
                    : address;
        } catch (UnknownHostException e) {
            return address;
        }
    }

    /** A mail server as HOST:PORT. An address of IPv6 stands in brackets where a port follows it (RFC 3986, 3.2.2). */
    private Optional<String> mailPlace(String said, int usual) {
        Matcher parts = MAIL_PLACE.matcher(said);
        int port = usual;
        if (parts.matches() && parts.group("port") != null) {
            port = Integer.parseInt(parts.group("port"));
        }
        if (!parts.matches() || port < 1 || port > 65_535) {
            complain("mail-host", said, "a host, or HOST:PORT, such as mail.example.org,");
            return Optional.empty();
        }
        String host = Stream.of("v6", "bare", "host")
                .map(parts::group)
                .filter(Objects::nonNull)
                .findFirst()
                .orElseThrow();
        return Optional.of(host + ":" + port);
    }

    private Encryption encryption() {
        String word = text("mail-encryption", "none");
        return Arrays.stream(Encryption.values())
                .filter(encryption -> encryption.name().equalsIgnoreCase(word))
                .findFirst()
                .orElseGet(() -> {
                    List<String> words = List.of("none", "starttls", "tls");
                    complain("mail-encryption", word, String.join(", ", words) + Nearest.hint(word, words));
                    return Encryption.NONE;
                });
    }

    private String text(String key, String usual) {
        return given.getOrDefault(key, usual);
    }

    private int number(String key, int usual, int least, int most) {
        String text = given.get(key);
        if (text == null) {
            return usual;
        }
        if (text.matches("\\d{1,9}") && Integer.parseInt(text) >= least && Integer.parseInt(text) <= most) {
            return Integer.parseInt(text);
        }
        complain(key, text, "a number from " + least + " to " + most);
        return usual;
    }

    private long size(String key, long usual) {
        String text = given.get(key);
        if (text == null) {
            return usual;
        }
        if (text.matches("(?i)\\d{1,6}[KMGT]B?")) {
            int letter = "KMGT"
                    .indexOf(Character.toUpperCase(text.replaceAll("\\d", "").charAt(0)));
            return Long.parseLong(text.replaceAll("\\D", "")) << (10 * (letter + 1));
        }
        complain(key, text, "a size such as 20MB or 1GB");
        return usual;
    }

    private Duration duration(String key, Duration usual) {
        String text = given.get(key);
        Optional<Duration> duration = text == null ? Optional.of(usual) : Durations.parse(text);
        if (duration.isEmpty()) {
            complain(key, text, "a duration, " + Durations.FORM + ",");
        }
        return duration.orElse(usual);
    }

    private void complain(String key, String text, String right) {
        problems.add(Problem.of(key, "'" + text + "': " + right + " would be right"));
    }
}
