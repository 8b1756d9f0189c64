package org.gantrel.service.git;

import java.io.BufferedOutputStream;
import java.io.FileOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import org.eclipse.jgit.api.Git;
import org.eclipse.jgit.api.errors.GitAPIException;
import org.eclipse.jgit.errors.AmbiguousObjectException;
import org.eclipse.jgit.errors.IncorrectObjectTypeException;
import org.eclipse.jgit.errors.MissingObjectException;
import org.eclipse.jgit.lib.AbbreviatedObjectId;
import org.eclipse.jgit.lib.FileMode;
import org.eclipse.jgit.lib.ObjectId;
import org.eclipse.jgit.lib.ObjectLoader;
import org.eclipse.jgit.lib.ObjectReader;
import org.eclipse.jgit.lib.Ref;
import org.eclipse.jgit.lib.Repository;
import org.eclipse.jgit.lib.StoredConfig;
import org.eclipse.jgit.revwalk.RevCommit;
import org.eclipse.jgit.revwalk.RevWalk;
import org.eclipse.jgit.storage.file.FileRepositoryBuilder;
import org.eclipse.jgit.treewalk.TreeWalk;
import org.gantrel.core.action.GitSource;
import org.gantrel.core.action.GitSource.Way;
import org.gantrel.core.text.Nearest;
import org.springframework.util.FileSystemUtils;

/**
 * The copy of a repository, as the {@link GitProgram} works on it. What stands in it comes from outside, and may take any
 * memory to be read: nothing here runs within the service.
 */
final class GitCopy implements AutoCloseable {

    private static final int MOST_FILES = 50_000;
    private static final int MOST_LETTERS = 4_000_000;
    private static final long MOST_BYTES = 1_000_000_000;
    private static final int LONGEST_LINK = 4_000;
    private static final int LONGEST_SUBJECT = 80;
    private static final int SHORTEST_COMMIT = 7;

    private final Path folder;
    private final GitSource source;
    private final Repository repository;

    /** Opens it; makes it where there is none, or where one was not made to its end. */
    GitCopy(Path folder, GitSource source) throws IOException {
        this.folder = folder;
        this.source = source;
        if (!Files.exists(folder.resolve("HEAD"))) {
            make(folder);
        }
        repository = at(folder);
        StoredConfig config = repository.getConfig();
        if (config.getBoolean("http", "followRedirects", true)) {
            config.setString("http", null, "followRedirects", "false");
            config.setBoolean("fetch", null, "fsckObjects", true);
            config.save();
        }
    }

    private static Repository at(Path folder) throws IOException {
        return new FileRepositoryBuilder()
                .setGitDir(folder.toFile())
                .setBare()
                .setMustExist(false)
                .build();
    }

    /** This process can end at any time: what is there is whole. */
    private static void make(Path folder) throws IOException {
        Path fresh = folder.resolveSibling(folder.getFileName() + ".new");
        FileSystemUtils.deleteRecursively(fresh);
        try (Repository made = at(fresh)) {
            made.create(true);
        }
        FileSystemUtils.deleteRecursively(folder);
        Files.move(fresh, folder, StandardCopyOption.ATOMIC_MOVE);
    }

    boolean isKnown() throws IOException {
        return !repository.getRefDatabase().getRefsByPrefix("refs/").isEmpty();
    }

    void bring(RemoteCopy remote) throws IOException {
        Optional<String> head = remote.bring(repository);
        Path offered = folder.resolve("offered");
        Files.deleteIfExists(offered);
        if (head.isPresent()) {
            Files.writeString(offered, head.get());
        }
    }

    void tidy() throws IOException {
        try (Git git = new Git(repository)) {
            git.gc().call();
        } catch (GitAPIException e) {
            throw new IOException(e);
        }
    }

    /** Writes down the state that is asked for, where that was not done before. */
    String state() throws IOException {
        try (RevWalk walk = new RevWalk(repository)) {
            RevCommit commit = walk.parseCommit(id());
            walk.parseBody(commit);
            if (Snapshot.read(folder, commit.name()).isEmpty()) {
                write(commit);
            }
            return commit.name();
        } catch (MissingObjectException | IncorrectObjectTypeException e) {
            throw new SourceRefused("'" + source.at() + "' of " + source.address() + " is no commit that it has");
        }
    }

    private String name() {
        return source.at().equals(GitSource.USUAL) ? source.address() : source.at() + " of " + source.address();
    }

    private void write(RevCommit commit) throws IOException {
        Path part = folder.resolve("state.part");
        var items = new ArrayList<Snapshot.Item>();
        var leftOut = new ArrayList<String>();
        long bytes = 0;
        try (var file = new FileOutputStream(part.toFile());
                OutputStream stream = new BufferedOutputStream(file);
                TreeWalk walk = new TreeWalk(repository)) {
            walk.addTree(commit.getTree());
            walk.setRecursive(true);
            Set<String> seen = new HashSet<>();
            int letters = 0;
            while (walk.next()) {
                String path = path(walk);
                String to = walk.getFileMode(0) == FileMode.SYMLINK ? link(walk) : "";
                letters += path.length() + to.length();
                if (seen.size() >= MOST_FILES || letters > MOST_LETTERS) {
                    throw new SourceRefused(name() + " holds more than " + MOST_FILES + " files, or more than "
                            + MOST_LETTERS + " letters in their names, too many to be taken");
                }
                if (!seen.add(path)) {
                    throw new SourceRefused(name() + " holds '" + path + "' twice");
                }
                FileMode mode = walk.getFileMode(0);
                if (mode == FileMode.GITLINK) {
                    leftOut.add(path);
                } else if (mode == FileMode.SYMLINK) {
                    items.add(new Snapshot.Item(path, Snapshot.Kind.LINK, bytes, 0, to));
                } else {
                    ObjectLoader content = repository.open(walk.getObjectId(0));
                    if (bytes + content.getSize() > MOST_BYTES) {
                        throw new SourceRefused(
                                name() + " has more than " + MOST_BYTES + " bytes, too many to be taken");
                    }
                    content.copyTo(stream);
                    var kind = mode == FileMode.EXECUTABLE_FILE ? Snapshot.Kind.PROGRAM : Snapshot.Kind.FILE;
                    items.add(new Snapshot.Item(path, kind, bytes, content.getSize(), ""));
                    bytes += content.getSize();
                }
            }
            stream.flush();
            // what is known to be there has to be there after a power cut too
            file.getFD().sync();
        }
        Files.move(part, Snapshot.files(folder, commit.name()), StandardCopyOption.ATOMIC_MOVE);
        new Snapshot(commit.getCommitTime(), subject(commit), leftOut, items, bytes).write(folder, commit.name());
    }

    private String path(TreeWalk walk) throws IOException {
        String path = walk.getPathString();
        for (String part : path.split("/", -1)) {
            if (part.isEmpty() || part.matches("(?i)\\.{1,2}|\\.git") || part.indexOf('\0') >= 0) {
                throw new SourceRefused(name() + " holds '" + path + "', which is no path of a file");
            }
        }
        return path;
    }

    private String link(TreeWalk walk) throws IOException {
        String to = new String(repository.open(walk.getObjectId(0)).getBytes(LONGEST_LINK), StandardCharsets.UTF_8);
        if (to.isEmpty() || to.indexOf('\0') >= 0) {
            throw new SourceRefused(name() + " holds '" + walk.getPathString() + "', a link to nowhere");
        }
        return to;
    }

    private static String subject(RevCommit commit) {
        String subject = commit.getShortMessage().replaceAll("\\p{Cntrl}", " ").strip();
        return subject.length() > LONGEST_SUBJECT ? subject.substring(0, LONGEST_SUBJECT) + "..." : subject;
    }

    /** The commit that a name stands for: a branch before a tag, and both before the digits of a commit. */
    private ObjectId id() throws IOException {
        String at = source.at();
        if (at.equals(GitSource.USUAL)) {
            return usual();
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

    private ObjectId usual() throws IOException {
        try {
            if (source.way() != Way.PATH) {
                return ObjectId.fromString(Files.readString(folder.resolve("offered")));
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

    @Override
    public void close() {
        repository.close();
    }
}
