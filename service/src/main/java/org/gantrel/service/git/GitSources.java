package org.gantrel.service.git;

import java.io.IOException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.time.Duration;
import java.util.HashMap;
import java.util.HexFormat;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.GitSource.Otherwise;
import org.gantrel.core.action.GitSource.Way;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.text.Words;
import org.gantrel.service.beside.Beginning;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.places.Hands;
import org.gantrel.service.remote.HostPrograms;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.work.Destinations;
import org.gantrel.service.work.WorkFailed;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import org.springframework.util.FileSystemUtils;

/**
 * Keeps a copy of each repository that jobs take files from, and brings it up to date before each use. Copies are shared by
 * all who ask in the same way: at one address, as one credential, and for a path on this host with the rights of one account and
 * team.
 */
@Component
class GitSources implements Sources {

    /** For what asks no other host. */
    private static final GitProcess.Host NOWHERE = line -> {
        throw new IOException("nothing is to be run on another host");
    };

    private static final Logger LOG = LoggerFactory.getLogger(GitSources.class);
    private static final Duration UNUSED = Duration.ofDays(30);
    private static final int MANY_PACKS = 50;

    /** So many lists of a state's files are held at a time, and longer where there is room. */
    private static final int READ_AT_ONCE = 8;

    /** To write down the files of a state may take so many times as long as to ask the repository. */
    private static final int LONGER = 10;

    private final Settings settings;
    private final Path root;
    private final GitProcesses processes;
    private final HostPrograms programs;
    private final Destinations destinations;
    private final Clock clock;
    private final Map<String, Copy> copies = new ConcurrentHashMap<>();
    private final Semaphore reading = new Semaphore(READ_AT_ONCE, true);

    GitSources(
            Settings settings, GitProcesses processes, HostPrograms programs, Destinations destinations, Clock clock) {
        this.settings = settings;
        this.root = settings.data().resolve("repositories");
        this.processes = processes;
        this.programs = programs;
        this.destinations = destinations;
        this.clock = clock;
    }

    /** Who works on a copy, and when it was last brought up to date. */
    private static final class Copy {
        private final ReentrantLock lock = new ReentrantLock();
        private long asked;
        private boolean brought;
        private boolean seen;
    }

    @Override
    public Taken take(GitSource source, Asking asking) throws IOException, InterruptedException {
        for (String complaint : Stream.concat(source.wrongAddress().stream(), source.wrongState().stream())
                .toList()) {
            throw new SourceRefused(complaint);
        }
        Optional<Credential> credential = source.credential().isEmpty()
                ? Optional.empty()
                : Optional.of(asking.credentials().apply(source.credential()));
        String key = key(source, asking);
        Copy copy = copies.computeIfAbsent(key, each -> new Copy());
        long now = System.nanoTime();
        BooleanSupplier late = until(source.patience(), asking.stopped());
        var room = new Room(root, settings.limits().leastFreeSpace());
        if (!copy.lock.tryLock(source.patience().toMillis(), TimeUnit.MILLISECONDS)) {
            throw new IOException("others are still reading " + source.address() + ", for more than "
                    + Words.duration(source.patience()));
        }
        try {
            return take(new Taking(
                    root.resolve(key),
                    copy,
                    now,
                    source,
                    asking,
                    credential,
                    () -> late.getAsBoolean() || room.isGone(),
                    () -> asking.stopped().getAsBoolean() || room.isGone()));
        } catch (IOException e) {
            if (room.isGone()) {
                throw new SourceRefused(source.address() + " takes more room than there is for it");
            }
            throw e;
        } finally {
            copy.lock.unlock();
        }
    }

    /**
     * What is taken, and for whom.
     *
     * @param folder of the copy
     * @param late whether the repository has had time enough to answer
     * @param unwanted whether it is of no use to go on
     */
    private record Taking(
            Path folder,
            Copy copy,
            long since,
            GitSource source,
            Asking asking,
            Optional<Credential> credential,
            BooleanSupplier late,
            BooleanSupplier unwanted) {

        Talk.Ask ask(Talk.Wish wish, String address, Map<String, String> headers) {
            return new Talk.Ask(wish, folder.toAbsolutePath().toString(), source, address, headers);
        }

        String name() {
            return source.at().equals(GitSource.USUAL) ? source.address() : source.at() + " of " + source.address();
        }
    }

    private Taken take(Taking taking) throws IOException, InterruptedException {
        prepare(taking);
        String old = "";
        // what others brought after this was asked for is new enough
        boolean isNew = taking.copy().brought && taking.copy().asked - taking.since() > 0;
        if (!isNew) {
            old = bring(taking);
        }
        Files.setLastModifiedTime(taking.folder(), FileTime.from(clock.instant()));
        String commit = state(taking);
        return new GitState(taking.folder(), commit, taking.name(), old, reading);
    }

    private String state(Taking taking) throws IOException, InterruptedException {
        Duration most = taking.source().patience().multipliedBy(LONGER);
        try {
            return ask(taking, Talk.Wish.STATE, until(most, taking.unwanted())).commit();
        } catch (GitProcess.Late e) {
            throw new IOException(
                    "the files of " + taking.name() + " were not put together within " + Words.duration(most), e);
        }
    }

    /** Before a copy is used for the first time since the service started: what it was doing when it ended goes. */
    private void prepare(Taking taking) throws IOException {
        if (!Files.exists(taking.folder().resolve("HEAD"))) {
            forgetOld();
            Files.createDirectories(taking.folder());
        } else if (!taking.copy().seen) {
            GitProcesses.clean(taking.folder());
        }
        taking.copy().seen = true;
    }

    private Talk.Answer ask(Taking taking, Talk.Wish wish, BooleanSupplier late)
            throws IOException, InterruptedException {
        return processes.ask(taking.asking().team(), taking.ask(wish, "", Map.of()), NOWHERE, late);
    }

    /** Brings a copy up to date; says why it could not, where what is known counts then. */
    private String bring(Taking taking) throws IOException, InterruptedException {
        Copy copy = taking.copy();
        long began = System.nanoTime();
        try {
            if (taking.source().way() == Way.PATH) {
                try (Hands hands = taking.asking().hands().open()) {
                    new PathCopy(hands, taking.source().address(), taking.late()).bring(taking.folder());
                }
            } else {
                fetch(taking);
            }
            copy.asked = began;
            copy.brought = true;
            tidy(taking);
            return "";
        } catch (SourceRefused e) {
            throw e;
        } catch (IOException e) {
            copy.brought = false;
            if (taking.source().otherwise() == Otherwise.LAST
                    && !taking.unwanted().getAsBoolean()
                    && ask(taking, Talk.Wish.KNOWN, taking.unwanted()).known()) {
                return sentence(e);
            }
            throw new IOException(sentence(e), e);
        }
    }

    private void fetch(Taking taking) throws IOException, InterruptedException {
        GitSource source = taking.source();
        Talk.Ask ask;
        if (source.way() == Way.WEB) {
            Destinations.Way way = web(source);
            var headers = new HashMap<>(
                    taking.credential().map(Credential::httpHeaders).orElse(Map.of()));
            way.host().ifPresent(host -> headers.put("Host", host));
            ask = taking.ask(Talk.Wish.BRING, way.address().toString(), headers);
        } else {
            Optional<String> wrong = wrongHost(source, taking.credential());
            if (wrong.isPresent()) {
                throw new SourceRefused(wrong.get());
            }
            ask = taking.ask(Talk.Wish.BRING, source.address(), Map.of());
        }
        GitProcess.Host host = line -> {
            try {
                return programs.start(taking.credential().orElseThrow(), line);
            } catch (IOException e) {
                throw new IOException(
                        "the repository at " + source.address() + " cannot be read: " + e.getMessage(), e);
            }
        };
        try {
            processes.ask(taking.asking().team(), ask, host, taking.late());
        } catch (GitProcess.Late e) {
            throw new IOException(host(source) + " did not answer within " + Words.duration(source.patience()), e);
        }
    }

    private static String host(GitSource source) {
        return source.way() == Way.SSH
                ? source.overSsh().host()
                : URI.create(source.address()).getAuthority();
    }

    private Destinations.Way web(GitSource source) throws SourceRefused {
        try {
            return destinations.way(URI.create(source.address()));
        } catch (WorkFailed e) {
            throw new SourceRefused(e.getMessage());
        }
    }

    /** The credential holds the host's key, which only that host proves to have. */
    private static Optional<String> wrongHost(GitSource source, Optional<Credential> credential) {
        if (credential.isEmpty()) {
            return Optional.of("a repository reached by SSH needs a credential of the kind ssh");
        }
        GitSource.OverSsh parts = source.overSsh();
        Credential known = credential.get();
        String port = known.fact("port").isEmpty() ? "22" : known.fact("port");
        boolean fits = parts.host().equalsIgnoreCase(known.fact("host"))
                && (parts.port() == 0 || port.equals(String.valueOf(parts.port())))
                && (parts.user().isEmpty() || parts.user().equals(known.fact("user")));
        return fits
                ? Optional.empty()
                : Optional.of("the credential " + known.name() + " is for " + known.fact("user") + "@"
                        + known.fact("host") + (port.equals("22") ? "" : ":" + port) + ", not for " + source.address());
    }

    private static String sentence(IOException e) {
        return e instanceof FileSystemException file && file.getReason() == null
                ? file.getFile() + " cannot be read"
                : String.valueOf(e.getMessage());
    }

    /** Removes copies that nobody has used for long; whoever asks again gets a new one. */
    private void forgetOld() throws IOException {
        if (!Files.isDirectory(root)) {
            return;
        }
        try (Stream<Path> all = Files.list(root)) {
            for (Path each : all.toList()) {
                boolean old = Files.getLastModifiedTime(each)
                        .toInstant()
                        .isBefore(clock.instant().minus(UNUSED));
                Copy copy = copies.computeIfAbsent(each.getFileName().toString(), key -> new Copy());
                if (old && copy.lock.tryLock()) {
                    try {
                        FileSystemUtils.deleteRecursively(each);
                    } finally {
                        copy.lock.unlock();
                    }
                }
            }
        }
    }

    /** Each look that brings something new leaves a file; they are put together when they have become many. */
    private void tidy(Taking taking) throws InterruptedException {
        Path packs = taking.folder().resolve("objects/pack");
        if (!Files.isDirectory(packs)) {
            return;
        }
        try {
            long many;
            try (Stream<Path> all = Files.list(packs)) {
                many = all.filter(each -> each.toString().endsWith(".pack")).count();
            }
            if (many > MANY_PACKS) {
                ask(taking, Talk.Wish.TIDY, taking.unwanted());
            }
        } catch (IOException e) {
            LOG.debug("{} stays as it is", packs, e);
        }
    }

    /** How long the whole may take; what has not come by then does not come. */
    private static BooleanSupplier until(Duration patience, BooleanSupplier stopped) {
        long begin = System.nanoTime();
        return () -> stopped.getAsBoolean() || Beginning.elapsed(begin) > patience.toNanos();
    }

    private static String key(GitSource source, Asking asking) {
        String own = source.way() == Way.PATH ? asking.team() + "\n" + asking.account() : source.credential();
        try {
            byte[] hash = MessageDigest.getInstance("SHA-256")
                    .digest((source.address() + "\n" + own).getBytes(StandardCharsets.UTF_8));
            return HexFormat.of().formatHex(hash, 0, 16);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
