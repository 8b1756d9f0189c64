package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.FileVisitResult;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.SimpleFileVisitor;
import java.nio.file.attribute.BasicFileAttributes;
import java.nio.file.attribute.PosixFileAttributeView;
import java.nio.file.attribute.PosixFilePermission;
import java.nio.file.attribute.PosixFilePermissions;
import java.nio.file.attribute.UserPrincipal;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.util.FileSystemUtils;

/**
 * The folder in which a command finds the files that were taken from a repository for its run. It stands in the run's own
 * folder, or in the one that every account can enter where the command runs as another.
 */
final class SourceFolder {

    /** The variable that tells a command where the files are. */
    static final String FOLDER = "GANTREL_SOURCE";

    /** The variable that tells a command which state they are of. */
    static final String COMMIT = "GANTREL_COMMIT";

    /** The value of the run that says the same. */
    static final String VALUE = "commit";

    private static final Logger LOG = LoggerFactory.getLogger(SourceFolder.class);
    private static final Path SHARED = Path.of("/tmp");

    private SourceFolder() {}

    /** The files that a run was given. @param commit which state they are of */
    record Given(Optional<Path> folder, String commit) {}

    /** Notes which state a run was given, where the files themselves are kept elsewhere. */
    static void note(RunFolder folder, String commit) throws IOException {
        Files.writeString(pointer(folder), commit + "\n");
    }

    /**
     * Lays out the files for an account.
     *
     * @param account whom the command runs as; nothing for the service's own account
     * @return the folder with the files, as a full path
     */
    static Path make(RunFolder folder, Sources.Taken taken, Optional<Account> account) throws IOException {
        Files.createDirectories(folder.path());
        Path outer = account.isEmpty()
                ? folder.path().toAbsolutePath()
                // nobody else may enter it before all is there, or put anything else in its place
                : Files.createTempDirectory(SHARED, "gantrel-source-");
        // nobody can guess where the files are in a place that others may enter but not list
        Path files = outer.resolve("source-" + UUID.randomUUID());
        Files.writeString(pointer(folder), taken.commit() + "\n" + files);
        Files.createDirectory(files);
        taken.layOut(files);
        if (account.isPresent()) {
            hand(outer, files, account.get());
        }
        return files;
    }

    /** From the inside to the outside, so that whoever may change them can only when all is done. */
    private static void hand(Path outer, Path files, Account account) throws IOException {
        boolean given = Account.own().isPrivileged();
        UserPrincipal owner = given
                ? outer.getFileSystem().getUserPrincipalLookupService().lookupPrincipalByName(account.name())
                : null;
        Files.walkFileTree(files, new SimpleFileVisitor<>() {
            @Override
            public FileVisitResult visitFile(Path file, BasicFileAttributes found) throws IOException {
                hand(file, found, owner);
                return FileVisitResult.CONTINUE;
            }

            @Override
            public FileVisitResult postVisitDirectory(Path each, IOException trouble) throws IOException {
                hand(each, Files.readAttributes(each, BasicFileAttributes.class, LinkOption.NOFOLLOW_LINKS), owner);
                return FileVisitResult.CONTINUE;
            }
        });
        Files.setPosixFilePermissions(outer, PosixFilePermissions.fromString(given ? "rwx------" : "rwx--x--x"));
        if (given) {
            Files.setOwner(outer, owner);
        }
    }

    private static void hand(Path each, BasicFileAttributes found, UserPrincipal owner) throws IOException {
        var view = Files.getFileAttributeView(each, PosixFileAttributeView.class, LinkOption.NOFOLLOW_LINKS);
        if (owner != null) {
            view.setOwner(owner);
        } else if (!found.isSymbolicLink()) {
            Set<PosixFilePermission> all = EnumSet.copyOf(view.readAttributes().permissions());
            boolean executed = all.contains(PosixFilePermission.OWNER_EXECUTE);
            view.setPermissions(PosixFilePermissions.fromString(executed ? "rwxrwxrwx" : "rw-rw-rw-"));
        }
    }

    /** What a run was given; nothing where it takes nothing from a repository. */
    static Optional<Given> of(RunFolder folder) throws IOException {
        try {
            List<String> lines = Files.readAllLines(pointer(folder));
            return lines.isEmpty()
                    ? Optional.empty()
                    : Optional.of(new Given(lines.stream().skip(1).findFirst().map(Path::of), lines.get(0)));
        } catch (NoSuchFileException e) {
            return Optional.empty();
        }
    }

    /** What a command is told of the files that it was given. */
    static Map<String, String> told(RunFolder folder) throws IOException {
        Map<String, String> told = new LinkedHashMap<>();
        of(folder).ifPresent(given -> {
            told.put(COMMIT, given.commit());
            given.folder().ifPresent(files -> told.put(FOLDER, files.toString()));
        });
        return told;
    }

    /** What a run says of it among its values. */
    static Map<String, String> values(RunFolder folder) {
        try {
            return of(folder).map(given -> Map.of(VALUE, given.commit())).orElse(Map.of());
        } catch (IOException e) {
            LOG.debug("which state {} was given is not known", folder.path(), e);
            return Map.of();
        }
    }

    /** Where they stand packed, for another host. */
    static Path packed(RunFolder folder) {
        return folder.path().resolve("source.tar.gz");
    }

    /** Removes the files; those of another account with its rights alone, whatever it made of them meanwhile. */
    static void remove(RunFolder folder, Optional<Account> account) {
        try {
            Files.deleteIfExists(packed(folder));
            Optional<Path> files = of(folder).flatMap(Given::folder);
            if (files.isEmpty() || !Files.exists(files.get(), LinkOption.NOFOLLOW_LINKS)) {
                return;
            }
            if (files.get().startsWith(folder.path().toAbsolutePath())) {
                FileSystemUtils.deleteRecursively(files.get());
                return;
            }
            List<String> remove = List.of("rm", "-rf", "--", files.get().toString());
            Programs.succeeds(
                    account.map(each -> each.prefix(Account.own(), Map.of())).orElse(List.of()), remove);
            if (!Account.own().isPrivileged()) {
                // the folder itself is the service's, and another account cannot take it out of one that is not its own
                Files.deleteIfExists(files.get());
            }
            Files.deleteIfExists(files.get().getParent());
        } catch (IOException e) {
            LOG.debug("what {} was given stays", folder.path(), e);
        }
    }

    private static Path pointer(RunFolder folder) {
        return folder.path().resolve("source-at");
    }
}
