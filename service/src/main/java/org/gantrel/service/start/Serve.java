package org.gantrel.service.start;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.AccessDeniedException;
import java.nio.file.DirectoryStream;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.LockSupport;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.GantrelService;
import org.gantrel.service.beside.CharacterSet;
import org.gantrel.service.beside.ForeignObjects;
import org.gantrel.service.durable.Collapse;
import org.gantrel.service.durable.DatabaseUrl;
import org.gantrel.service.durable.Disk;
import org.gantrel.service.execution.Accounts;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.settings.SettingsReader;
import org.gantrel.service.settings.TlsFiles;
import org.springframework.beans.factory.config.ConfigurableListableBeanFactory;
import org.springframework.boot.SpringApplication;
import org.springframework.boot.web.server.PortInUseException;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.context.event.ContextClosedEvent;
import org.springframework.util.FileSystemUtils;

/** The command {@code gantrel serve}. */
public final class Serve {

    private static final int WRONG_USAGE = 2;
    private static final int CONFLICT = 4;
    private static final Duration UNTIL_ANOTHER_HAS_ENDED = Duration.ofSeconds(5);

    private Serve() {}

    /** Starts the service in the foreground; exits 2 for wrong options or settings, 4 where the place is taken. */
    public static void main(String[] arguments) {
        ForeignObjects.refuse();
        try {
            Map<String, String> options = options(arguments);
            if (options.containsKey("help")) {
                System.out.print(help());
                return;
            }
            Path data = Path.of(Optional.ofNullable(options.remove("data"))
                    .or(() -> Optional.ofNullable(System.getenv("GANTREL_DATA")))
                    .orElse("gantrel-data"));
            boolean check = options.remove("check") != null;
            Settings settings = SettingsReader.read(data, options, System.getenv());
            // not by the command line: a Java that finds no such folder complains, and it is made only once it may be
            System.setProperty(
                    "java.io.tmpdir", data.toAbsolutePath().resolve("tmp").toString());
            if (check) {
                System.exit(new SelfCheck(settings, System.out).run() == 0 ? 0 : 1);
            }
            settings.runAs().flatMap(new Accounts()::complaint).ifPresent(complaint -> {
                throw new InvalidException("run-as", complaint);
            });
            CharacterSet.OWN.complaint().ifPresent(complaint -> System.err.println("gantrel serve: " + complaint));
            Clock clock = Clock.tickMillis(ZoneOffset.UTC);
            settings.web()
                    .tlsCertificate()
                    .flatMap(file -> TlsFiles.warning(file, clock.instant()))
                    .ifPresent(warning -> System.err.println("gantrel serve: " + warning));
            serve(settings, clock);
        } catch (InvalidException e) {
            e.problems().forEach(problem -> System.err.println("gantrel serve: " + problem.sentence()));
            System.exit(WRONG_USAGE);
        } catch (Taken e) {
            System.err.println("gantrel serve: " + e.getMessage());
            System.exit(CONFLICT);
        } catch (IOException | InterruptedException e) {
            System.err.println("gantrel serve: " + e);
            System.exit(1);
        }
    }

    /** Runs the service, and runs it anew on what is on the disk whenever its database has closed itself. */
    private static void serve(Settings settings, Clock clock) throws IOException, InterruptedException {
        while (true) {
            ConfigurableApplicationContext context = start(settings, clock);
            String why = context.getBean(Collapse.class).await();
            if (!context.isActive()) {
                // it is being stopped
                return;
            }
            System.err.println("gantrel serve: the database has closed itself (" + why + "); the service stops");
            context.close();
            waitForRoom(settings);
            System.err.println("gantrel serve: the service begins again on what is on the disk");
        }
    }

    /** Comes back when there is as much room as a run needs to start. */
    private static void waitForRoom(Settings settings) throws IOException, InterruptedException {
        boolean said = false;
        long least = settings.limits().leastFreeSpace();
        while (Disk.OF_THE_HOST.free(settings.data()) < least) {
            if (!said) {
                said = true;
                System.err.println(
                        "gantrel serve: it waits until " + (least >> 20) + " MB are free in " + settings.data());
            }
            TimeUnit.SECONDS.sleep(1);
        }
    }

    /** Something that the service needs is in use by another. */
    private static final class Taken extends RuntimeException {
        Taken(String message) {
            super(message);
        }
    }

    /**
     * Starts the service.
     *
     * @param clock the one clock of the whole service
     */
    public static ConfigurableApplicationContext start(Settings settings, Clock clock) throws IOException {
        return start(settings, clock, Disk.OF_THE_HOST);
    }

    /** The same with another way to see how much room there is. */
    static ConfigurableApplicationContext start(Settings settings, Clock clock, Disk disk) throws IOException {
        FileLock lock = take(settings.data());
        Optional<String> deaf = Listening.complaint(settings.address(), settings.port());
        if (deaf.isPresent()) {
            release(lock);
            throw new Taken(deaf.get());
        }
        var application = new SpringApplication(GantrelService.class);
        application.setDefaultProperties(properties(settings, OwnDatabase.password(settings)));
        application.addInitializers(context -> {
            ConfigurableListableBeanFactory beans = context.getBeanFactory();
            beans.registerSingleton("settings", settings);
            beans.registerSingleton("clock", clock);
            beans.registerSingleton("collapse", new Collapse());
            beans.registerSingleton("disk", disk);
        });
        try {
            ConfigurableApplicationContext context = application.run();
            context.addApplicationListener(event -> {
                if (event instanceof ContextClosedEvent) {
                    release(lock);
                }
            });
            return context;
        } catch (RuntimeException e) {
            release(lock);
            if (hasCause(e, PortInUseException.class)) {
                throw new Taken(Listening.inUse(settings.address(), settings.port()));
            }
            throw e;
        }
    }

    private static Map<String, Object> properties(Settings settings, String password) {
        var properties = new HashMap<String, Object>();
        // a file of that name in the folder that the service is started in is none of ours
        properties.put("spring.config.location", "classpath:/application.properties");
        properties.put("server.port", settings.port());
        properties.put("server.address", settings.address());
        properties.put("spring.datasource.url", DatabaseUrl.of("", settings.databaseFile()));
        properties.put("spring.datasource.username", "gantrel");
        properties.put("spring.datasource.password", password);
        web(settings.web()).forEach(properties::put);
        return properties;
    }

    /** What of the web server's settings follows from how the service is reached. */
    private static Map<String, Object> web(Settings.Web web) {
        var properties = new HashMap<String, Object>();
        if (!web.trustedProxies().isEmpty()) {
            properties.put("server.forward-headers-strategy", "native");
            properties.put(
                    "server.tomcat.remoteip.internal-proxies",
                    web.trustedProxies().stream().map(Pattern::quote).collect(Collectors.joining("|")));
            properties.put("server.tomcat.remoteip.remote-ip-header", "X-Forwarded-For");
            properties.put("server.tomcat.remoteip.protocol-header", "X-Forwarded-Proto");
        }
        web.tlsCertificate().ifPresent(file -> {
            properties.put("server.ssl.certificate", file.toUri().toString());
            properties.put(
                    "server.ssl.certificate-private-key",
                    web.tlsKey().orElseThrow().toUri().toString());
            properties.put("server.ssl.enabled-protocols", "TLSv1.3,TLSv1.2");
        });
        return properties;
    }

    private static void prepare(Path data) throws IOException {
        Set<PosixFilePermission> own = PosixFilePermissions.fromString("rwx------");
        if (!Files.isDirectory(data)) {
            Files.createDirectories(data, PosixFilePermissions.asFileAttribute(own));
        } else if (!own.containsAll(Files.getPosixFilePermissions(data))) {
            try {
                Files.setPosixFilePermissions(data, own);
                System.err.println(
                        "gantrel serve: others could look into the data folder " + data + "; it is closed to them now");
            } catch (IOException e) {
                throw new Taken("others can look into the data folder " + data
                        + ", and it cannot be closed to them; 'chmod 700 " + data + "' as its owner does that");
            }
        }
        Files.createDirectories(data.resolve("tmp"));
    }

    /**
     * Removes what a service that was killed left behind of what it needed for a moment only. A link that leads elsewhere
     * is left alone: what is there may be others'.
     */
    private static void empty(Path folder) throws IOException {
        if (Files.isSymbolicLink(folder)) {
            return;
        }
        try (DirectoryStream<Path> left = Files.newDirectoryStream(folder)) {
            for (Path each : left) {
                try {
                    FileSystemUtils.deleteRecursively(each);
                } catch (IOException e) {
                    System.err.println(
                            "gantrel serve: " + each + " is not needed any more and cannot be removed: " + e);
                }
            }
        }
    }

    /** Makes the data folder this service's own. */
    private static FileLock take(Path data) throws IOException {
        try {
            prepare(data);
            FileLock lock = lock(data);
            empty(data.resolve("tmp"));
            return lock;
        } catch (FileAlreadyExistsException e) {
            throw new Taken("the data folder " + data + " cannot be used: " + e.getFile() + " is no folder");
        } catch (FileSystemException e) {
            String why = e instanceof AccessDeniedException
                    ? "this account may not write to " + e.getFile()
                    : e.getFile() + ": " + Optional.ofNullable(e.getReason()).orElse("cannot be made");
            throw new Taken("the data folder " + data + " cannot be used: " + why);
        }
    }

    private static FileLock lock(Path data) throws IOException {
        FileChannel channel =
                FileChannel.open(data.resolve("lock"), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
        FileLock lock = tryLock(channel);
        // one that was just ended may need a moment until the system has put its process away
        for (Instant patience = Instant.now().plus(UNTIL_ANOTHER_HAS_ENDED);
                lock == null && Instant.now().isBefore(patience);
                lock = tryLock(channel)) {
            LockSupport.parkNanos(Duration.ofMillis(100).toNanos());
        }
        if (lock == null) {
            channel.close();
            throw new Taken(
                    "the data folder " + data + " is in use by a service that runs; choose another with --data");
        }
        return lock;
    }

    private static FileLock tryLock(FileChannel channel) throws IOException {
        try {
            return channel.tryLock();
        } catch (OverlappingFileLockException e) {
            return null;
        }
    }

    private static void release(FileLock lock) {
        try {
            lock.acquiredBy().close();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private static boolean hasCause(Throwable thrown, Class<?> wanted) {
        for (Throwable each = thrown; each != null; each = each.getCause()) {
            if (wanted.isInstance(each)) {
                return true;
            }
        }
        return false;
    }

    private static Map<String, String> options(String[] arguments) {
        var known = new ArrayList<>(SettingsReader.keys());
        known.addAll(List.of("data", "help", "check"));
        var options = new HashMap<String, String>();
        for (int i = 0; i < arguments.length; i++) {
            String word = arguments[i];
            int equals = word.indexOf('=');
            String key = word.replaceFirst("^--?", "").replaceFirst("=.*", "");
            if (key.equals("h") || key.equals("help")) {
                options.put("help", "");
            } else if (key.equals("check") && equals < 0) {
                options.put("check", "");
            } else if (!word.startsWith("--") || !known.contains(key)) {
                throw new InvalidException(word, "is no option" + Nearest.hint(key, known) + "; --help lists them");
            } else if (equals < 0 && i + 1 == arguments.length) {
                throw new InvalidException(word, "needs a value");
            } else {
                options.put(key, equals >= 0 ? word.substring(equals + 1) : arguments[++i]);
            }
        }
        return options;
    }

    private static String help() {
        return """
                Usage: gantrel serve [--data DIR] [--port N] [--address A] [OPTION...]

                Runs the service in the foreground. Ctrl-C stops it; the commands it started go on, and the next
                start finds them again.

                  --data DIR                 database, key and logs (gantrel-data)
                  --port N                   the port to listen on (8480)
                  --address A                the address to listen on (127.0.0.1)
                  --url U                    what links in mails begin with
                  --zone Z                   whose days count for jobs without a schedule (the host's)
                  --run-as ACCOUNT           whom commands run as whose jobs name no credential (its own account)
                  --databases LIST           what addresses of databases may begin with, beside PostgreSQL's and H2's servers
                  --http-allow LIST, --http-deny LIST
                                             networks (10.0.0.0/8) and hosts (*.example.org) for requests of jobs
                  --trusted-proxies LIST     addresses of proxies whose X-Forwarded-For and -Proto are believed
                  --tls-cert F, --tls-key F  certificates and key in PEM, for TLS by the service itself
                  --runs-at-once N           runs that go at the same time (16)
                  --sweep-rows N             rows that a sweep takes at most (1000000)
                  --least-free-space S       what must be free for logs before a command starts (20MB)
                  --log-limit S              what a run's log may take; of more, the middle is left out (1GB)
                  --grace D                  how late an occurrence may start (1 min)
                  --keep-runs D, --keep-logs D, --keep-changes D
                                             how long runs, their logs and the audit record are kept (for ever)
                  --keep-events D            how long the journal is kept (90 days)
                  --memory S                 how much memory the service takes for its work (320m)
                  --backup-to DIR            where the database is backed up to each day (none: it is not)
                  --backup-at HH:MM, --backup-keep N
                                             when (02:30), and how many are kept (7)
                  --mail-host H, --mail-port N, --mail-from A, --mail-encryption none|starttls|tls,
                  --mail-user U, --mail-password P

                  --check                    says how a service with these settings would stand, and starts nothing;
                                             exits 1 where something is doubtful

                Each may also stand in DIR/gantrel.yaml (port: 8480) or in the environment (GANTREL_PORT).
                The first start makes the account 'admin' with the password in GANTREL_ADMIN_PASSWORD, or with one
                that is printed once.

                Example: gantrel serve --data /srv/gantrel --port 8480
                """;
    }
}
