package org.gantrel.service.web;

import jakarta.persistence.EntityManager;
import java.io.IOException;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.service.execution.Accounts;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Caller;
import org.gantrel.service.time.Presence;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** How this installation is, for whoever runs it: what it holds, how much room there is, and the settings in force. */
@RestController
class InstallationApi {

    private static final Map<String, String> COUNTED = Map.of(
            "people", "Person",
            "teams", "Team",
            "jobs", "JobRecord",
            "calendars", "CalendarRecord",
            "rosters", "RosterRecord",
            "credentials", "CredentialRecord");

    /**
     * The installation.
     *
     * @param java the Java that it runs on
     * @param account the account of the service itself
     * @param freeBytes room on the disk that holds the data
     * @param databaseBytes the size of the database's file
     * @param memoryBytes what the service uses of its memory, of {@code memoryMost} at most
     * @param counts how many things there are, by kind
     */
    record Installation(
            String version,
            String java,
            String system,
            String account,
            Instant now,
            Instant upSince,
            String engine,
            String database,
            String disk,
            long freeBytes,
            long totalBytes,
            long databaseBytes,
            long memoryBytes,
            long memoryMost,
            Map<String, Long> counts,
            List<InForce> settings) {}

    /**
     * A setting as it holds.
     *
     * @param from where it was said: an option, a variable, the file; or that it is what is usual
     */
    record InForce(String name, String value, String from) {}

    private final Settings settings;
    private final Vitals vitals;
    private final Presence presence;
    private final EntityManager entities;
    private final Clock clock;

    InstallationApi(Settings settings, Vitals vitals, Presence presence, EntityManager entities, Clock clock) {
        this.settings = settings;
        this.vitals = vitals;
        this.presence = presence;
        this.entities = entities;
        this.clock = clock;
    }

    @GetMapping("/api/v1/installation")
    Installation show(@AuthenticationPrincipal Caller caller) throws IOException {
        caller.require(Deed.RUN_INSTALLATION);
        Vitals.Signs signs = vitals.look();
        FileStore store = Files.getFileStore(settings.data());
        Path database = Path.of(settings.databaseFile() + ".mv.db");
        Runtime runtime = Runtime.getRuntime();
        return new Installation(
                Version.OURS,
                System.getProperty("java.version"),
                System.getProperty("os.name") + " " + System.getProperty("os.version"),
                Accounts.own(),
                clock.instant(),
                presence.upSince(),
                signs.engine(),
                signs.database(),
                signs.disk(),
                store.getUsableSpace(),
                store.getTotalSpace(),
                Files.exists(database) ? Files.size(database) : 0,
                runtime.totalMemory() - runtime.freeMemory(),
                runtime.maxMemory(),
                counts(),
                inForce());
    }

    /** Each is a question by itself: the disk is looked at beside them, and no transaction waits for that. */
    private Map<String, Long> counts() {
        Map<String, Long> counts = new LinkedHashMap<>();
        List.of("people", "teams", "jobs", "calendars", "rosters", "credentials")
                .forEach(kind -> {
                    String query = "select count(e) from " + COUNTED.get(kind) + " e";
                    counts.put(kind, entities.createQuery(query, Long.class).getSingleResult());
                });
        counts.put(
                "runs",
                Optional.ofNullable(entities.createQuery("select max(r.number) from RunRecord r", Long.class)
                                .getSingleResult())
                        .orElse(0L));
        return counts;
    }

    /** The settings one by one; what is secret is only said to be there. */
    private List<InForce> inForce() {
        Settings.Keep keep = settings.keep();
        Settings.Limits limits = settings.limits();
        Map<String, String> values = new LinkedHashMap<>();
        values.put("address", settings.address());
        values.put("port", String.valueOf(settings.port()));
        values.put("url", settings.url());
        values.put("zone", settings.zone().getId());
        values.put("run-as", settings.runAs().orElse("the service's own account"));
        values.put("databases", words(settings.reach().databases()));
        values.put("http-allow", words(settings.reach().allow()));
        values.put("http-deny", words(settings.reach().deny()));
        values.put("trusted-proxies", words(settings.web().trustedProxies()));
        values.put(
                "tls-cert", settings.web().tlsCertificate().map(Path::toString).orElse("none"));
        values.put("runs-at-once", String.valueOf(limits.runsAtOnce()));
        values.put("sweep-rows", String.valueOf(limits.sweepRows()));
        values.put("least-free-space", limits.leastFreeSpace() / (1 << 20) + " MB");
        values.put("log-limit", limits.largestLog() / (1 << 20) + " MB");
        values.put("grace", limits.grace().toString());
        values.put("keep-runs", length(keep.runs().runs()));
        values.put("keep-logs", length(keep.runs().logs()));
        values.put("keep-events", keep.events().toString());
        values.put(
                "keep-events-of",
                words(keep.ofTypes().entrySet().stream()
                        .map(each -> each.getKey() + "=" + each.getValue())
                        .toList()));
        values.put("keep-changes", length(keep.changes()));
        values.put(
                "backup-to", settings.backup().map(to -> to.folder().toString()).orElse("none: none are made"));
        settings.backup().map(Settings.Backup::plan).ifPresent(plan -> {
            values.put("backup-at", plan.at() + " " + plan.zone().getId());
            values.put("backup-keep", String.valueOf(plan.keep()));
        });
        values.put(
                "mail-host",
                settings.mail()
                        .map(mail -> String.join(
                                ", ",
                                mail.all().stream()
                                        .map(each -> each.host() + ":" + each.port())
                                        .toList()))
                        .orElse("none: mails wait"));
        values.put("mail-from", settings.mail().map(Settings.Mail::from).orElse(""));
        values.put(
                "mail-encryption",
                settings.mail()
                        .map(mail -> mail.encryption().name().toLowerCase(Locale.ROOT))
                        .orElse(""));
        return values.entrySet().stream()
                .map(each -> new InForce(
                        each.getKey(), each.getValue(), settings.said().getOrDefault(each.getKey(), "as usual")))
                .toList();
    }

    private static String words(List<String> words) {
        return words.isEmpty() ? "none" : String.join(", ", words);
    }

    private static String length(Optional<Duration> kept) {
        return kept.map(Duration::toString).orElse("for ever");
    }
}
