package org.gantrel.service.places;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * What the work of a team's jobs may reach on this host, beside what the account that it runs as may. Paths are judged as
 * the disk has them, every link followed.
 *
 * @param only the folders that an administrator lists for the team; empty for anywhere
 * @param never folders that no job reaches: the service's own data and its backups, and what the kernel tells of processes and devices
 */
public record Reachable(List<String> only, List<String> never) {

    private static final List<String> KERNEL = List.of("/proc", "/sys", "/dev", "/run/user");

    public Reachable {
        only = List.copyOf(only);
        never = List.copyOf(never);
    }

    /**
     * What jobs reach that may use some folders.
     *
     * @param own the service's: where it keeps its data, and backups of it
     */
    public static Reachable of(List<String> only, Path... own) {
        var never = new ArrayList<>(KERNEL);
        for (Path folder : own) {
            never.add(folder.toAbsolutePath().normalize().toString());
            realPath(folder).ifPresent(never::add);
        }
        return new Reachable(only, never);
    }

    private static Optional<String> realPath(Path folder) {
        try {
            return Optional.of(folder.toRealPath().toString());
        } catch (IOException e) {
            // without a real path it is known by its name alone
            return Optional.empty();
        }
    }

    /**
     * The real path of what is there.
     *
     * @throws NotReachable where it is not for these jobs
     * @throws NoSuchFileException where nothing is there
     */
    Path real(String given) throws IOException {
        Path path = full(given);
        judge(given, path);
        if (!Files.exists(path, LinkOption.NOFOLLOW_LINKS)) {
            throw new NoSuchFileException(given);
        }
        Path real = path.toRealPath();
        judge(given, real);
        return real;
    }

    /** The real path of a folder that is made where it is not there yet. */
    Path made(String given) throws IOException {
        Path path = full(given);
        judge(given, path);
        var missing = new ArrayDeque<Path>();
        Path there = path;
        while (!Files.exists(there, LinkOption.NOFOLLOW_LINKS)) {
            missing.push(there.getFileName());
            there = there.getParent();
        }
        Path real = there.toRealPath();
        for (Path name : missing) {
            real = real.resolve(name);
        }
        judge(given, real);
        for (Path each = there.toRealPath(); !missing.isEmpty(); ) {
            each = each.resolve(missing.pop());
            Files.createDirectory(each);
            // the mask of the service is for its own files
            Files.setPosixFilePermissions(each, PosixFilePermissions.fromString("rwxr-xr-x"));
        }
        return real;
    }

    private static Path full(String given) throws NotReachable {
        Path path = Path.of(given);
        if (!path.isAbsolute() || !path.normalize().equals(path)) {
            throw new NotReachable("'" + given + "' is no full path without '..'");
        }
        return path;
    }

    /** Refuses a path that these jobs do not reach. */
    void judge(String given, Path path) throws NotReachable {
        if (never.stream().anyMatch(path::startsWith)) {
            throw new NotReachable(given + " is nothing that a job may reach");
        }
        if (!only.isEmpty() && only.stream().noneMatch(folder -> isBelow(path, folder))) {
            throw new NotReachable(
                    given + " lies outside of the folders that the team may use: " + String.join(", ", only));
        }
    }

    private static boolean isBelow(Path path, String folder) {
        try {
            return path.startsWith(folder) || path.startsWith(Path.of(folder).toRealPath());
        } catch (IOException e) {
            return path.startsWith(folder);
        }
    }
}
