package org.gantrel.service.git;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemException;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.time.Clock;
import java.time.Duration;
import java.util.Collection;
import java.util.HexFormat;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.BooleanSupplier;
import java.util.stream.Stream;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.errors.GitAPIException;
import org.eclipse.jgit.errors.AmbiguousObjectException;
import org.eclipse.jgit.errors.IncorrectObjectTypeException;
import org.eclipse.jgit.errors.MissingObjectException;
import org.eclipse.jgit.lib.AbbreviatedObjectId;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.ObjectReader;
import org.eclipse.jgit.lib.Ref;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.lib.StoredConfig;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.revwalk.RevWalk;
import org.eclipse.jgit.storage.file.FileRepositoryBuilder;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.GitSource.Otherwise;
import org.gantrel.core.action.GitSource.Way;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.service.execution.Sources;
import org.gantrel.service.places.Hands;
import org.gantrel.service.remote.HostPrograms;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.work.Destinations;
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

    private static final Logger LOG = LoggerFactory.getLogger(GitSources.class);
    private static final Duration UNUSED = Duration.ofDays(30);
    private static final int MANY_PACKS = 50;
    private static final int SHORTEST_COMMIT = 7;

    private final Settings settings;
    private final Path root;
    private final HostPrograms programs;
    private final Destinations destinations;
    private final Clock clock;
    private final Map<String, Copy> copies = new ConcurrentHashMap<>();

    GitSources(Settings settings, HostPrograms programs, Destinations destinations, Clock clock) {
        this.settings = settings;
        this.root = settings.data().resolve("repositories");
        this.programs = programs;
        this.destinations = destinations;
        this.clock = clock;
    }

    /** Who works on a copy, and when it was last brought up to date. */
    private static final class Copy {
        private final ReentrantLock lock = new ReentrantLock();
        private long asked;
        private boolean brought;
    }

    @Override
    public Taken take(GitSource source, Asking asking) throws IOException, InterruptedException {
        OwnSettings.use();
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
        BooleanSupplier late = RemoteCopy.until(source.patience(), asking.stopped());
        var room = new Room(root, settings.limits().leastFreeSpace());
        if (!copy.lock.tryLock(source.patience().toMillis(), TimeUnit.MILLISECONDS)) {
            throw new IOException("others are still reading " + source.address() + ", for more than "
                    + Words.duration(source.patience()));
        }
        try {
            return take(
                    root.resolve(key),
                    copy,
                    now,
                    source,
                    asking,
                    credential,
                    () -> late.getAsBoolean() || room.isGone());
        } catch (IOException e) {
            if (room.isGone()) {
                throw new SourceRefused(source.address() + " takes more room than there is for it");
            }
            throw e;
        } finally {
            copy.lock.unlock();
        }
    }

    private Taken take(
            Path folder,
            Copy copy,
            long now,
            GitSource source,
            Asking asking,
            Optional<Credential> credential,
            BooleanSupplier late)
            throws IOException {
        Repository repository = repository(folder);
        try {
            String old = "";
            // what others brought after this was asked for is new enough
            boolean isNew = copy.brought && copy.asked - now > 0;
            if (!isNew) {
                old = bring(repository, copy, source, asking, credential, late);
            }
            Files.setLastModifiedTime(folder, FileTime.from(clock.instant()));
            RevCommit commit = commit(repository, source);
            String name =
                    source.at().equals(GitSource.USUAL) ? source.address() : source.at() + " of " + source.address();
            return new GitState(repository, commit, name, old);
        } catch (IOException | RuntimeException e) {
            repository.close();
            throw e;
        }
    }

    /** Brings a copy up to date; says why it could not, where what is known counts then. */
    private String bring(
            Repository repository,
            Copy copy,
            GitSource source,
            Asking asking,
            Optional<Credential> credential,
            BooleanSupplier late)
            throws IOException {
        long began = System.nanoTime();
        try {
            if (source.way() == Way.PATH) {
                try (Hands hands = asking.hands().open()) {
                    new PathCopy(hands, source.address(), late)
                            .bring(repository.getDirectory().toPath());
                }
                repository.getRefDatabase().refresh();
            } else {
                Optional<String> head =
                        new RemoteCopy(source, credential, programs, destinations, late).bring(repository);
                Path offered = offered(repository);
                Files.deleteIfExists(offered);
                if (head.isPresent()) {
                    Files.writeString(offered, head.get());
                }
            }
            copy.asked = began;
            copy.brought = true;
            tidy(repository);
            return "";
        } catch (SourceRefused e) {
            throw e;
        } catch (IOException e) {
            copy.brought = false;
            boolean known =
                    !repository.getRefDatabase().getRefsByPrefix("refs/").isEmpty();
            if (source.otherwise() == Otherwise.LAST
                    && known
                    && !asking.stopped().getAsBoolean()) {
                return sentence(e);
            }
            throw new IOException(sentence(e), e);
        }
    }

    private static String sentence(IOException e) {
        return e instanceof FileSystemException file && file.getReason() == null
                ? file.getFile() + " cannot be read"
                : String.valueOf(e.getMessage());
    }

    private static Path offered(Repository repository) {
        return repository.getDirectory().toPath().resolve("offered");
    }

    private Repository repository(Path folder) throws IOException {
        boolean isNew = !Files.exists(folder.resolve("HEAD"));
        if (isNew) {
            forgetOld();
        }
        Repository repository = new FileRepositoryBuilder()
                .setGitDir(folder.toFile())
                .setBare()
                .setMustExist(false)
                .build();
        if (isNew) {
            Files.createDirectories(folder);
            repository.create(true);
            StoredConfig config = repository.getConfig();
            config.setString("http", null, "followRedirects", "false");
            config.setBoolean("fetch", null, "fsckObjects", true);
            config.save();
        }
        return repository;
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
    private static void tidy(Repository repository) throws IOException {
        Path packs = repository.getDirectory().toPath().resolve("objects/pack");
        if (!Files.isDirectory(packs)) {
            return;
        }
        long many;
        try (Stream<Path> all = Files.list(packs)) {
            many = all.filter(each -> each.toString().endsWith(".pack")).count();
        }
        if (many > MANY_PACKS) {
            try (Git git = new Git(repository)) {
                git.gc().call();
            } catch (GitAPIException | RuntimeException e) {
                LOG.debug("{} stays as it is", packs, e);
            }
        }
    }

    /** The commit that a name stands for: a branch before a tag, and both before the digits of a commit. */
    private static RevCommit commit(Repository repository, GitSource source) throws IOException {
        try (RevWalk walk = new RevWalk(repository)) {
            RevCommit commit = walk.parseCommit(id(repository, source));
            walk.parseBody(commit);
            return commit;
        } catch (MissingObjectException | IncorrectObjectTypeException e) {
            throw new SourceRefused("'" + source.at() + "' of " + source.address() + " is no commit that it has");
        }
    }

    private static ObjectId id(Repository repository, GitSource source) throws IOException {
        String at = source.at();
        if (at.equals(GitSource.USUAL)) {
            return usual(repository, source);
        }
        for (String kind : List.of("refs/heads/", "refs/tags/")) {
            Ref ref = repository.exactRef(kind + at);
            if (ref != null && ref.getObjectId() != null) {
                return ref.getObjectId();
            }
        }
        if (at.matches("[0-9a-fA-F]{" + SHORTEST_COMMIT + ",40}")) {
            try (ObjectReader reader = repository.newObjectReader()) {
                Collection<ObjectId> found = reader.resolve(AbbreviatedObjectId.fromString(at));
                if (found.size() > 1) {
                    throw new SourceRefused("'" + at + "' begins several commits of " + source.address());
                }
                if (found.size() == 1 && reader.has(found.iterator().next())) {
                    return found.iterator().next();
                }
            } catch (AmbiguousObjectException e) {
                throw new SourceRefused("'" + at + "' begins several commits of " + source.address());
            }
        }
        List<String> names = repository.getRefDatabase().getRefsByPrefix("refs/heads/", "refs/tags/").stream()
                .map(ref -> Repository.shortenRefName(ref.getName()))
                .toList();
        throw new SourceRefused(
                "there is no branch, tag or commit '" + at + "' in " + source.address() + Nearest.hint(at, names));
    }

    private static ObjectId usual(Repository repository, GitSource source) throws IOException {
        try {
            if (source.way() != Way.PATH) {
                return ObjectId.fromString(Files.readString(offered(repository)));
            }
        } catch (NoSuchFileException e) {
            throw new SourceRefused("the repository at " + source.address() + " has no commit yet");
        }
        ObjectId id = repository.resolve(GitSource.USUAL);
        if (id == null) {
            throw new SourceRefused("the repository at " + source.address() + " has no commit yet");
        }
        return id;
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
