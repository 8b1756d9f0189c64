package org.gantrel.service.execution;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.util.FileSystemUtils;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * The file in which a command leaves its results: one JSON object (RFC 8259). It is named to the command in its
 * environment. Read once, when the command has ended, and only as far as results may go.
 */
final class ResultFile {

    /** The variable that names it. */
    static final String VARIABLE = "GANTREL_RESULT";

    private static final Logger LOG = LoggerFactory.getLogger(ResultFile.class);
    private static final JsonMapper JSON = JsonMapper.builder().build();
    /** The one folder that every account can enter (POSIX.1-2017, 10.1); the service's own is its own. */
    private static final Path SHARED = Path.of("/tmp");

    private static final String NAME = "result.json";
    private static final String GIVEN = "files-";

    private ResultFile() {}

    /** What a command left. @param trouble why that is not taken; empty where it is, or where there is none */
    record Left(Map<String, String> values, String trouble) {
        static final Left NOTHING = new Left(Map.of(), "");
    }

    /**
     * Makes the place for it, and puts files there that the command is given.
     *
     * @param account whom the command runs as; nothing for the service's own account
     * @param given files by the variables that name them
     * @return what the command is told: where each file is, and where its result is to be
     */
    static Map<String, String> prepare(RunFolder folder, Optional<Account> account, Map<String, Path> given)
            throws IOException {
        Path place = place(folder, account);
        Map<String, String> told = new LinkedHashMap<>();
        if (!given.isEmpty()) {
            // nobody can guess where they are in a place that others may enter but not list
            Path files = Files.createDirectories(place.resolve(GIVEN + UUID.randomUUID()));
            for (Map.Entry<String, Path> each : given.entrySet()) {
                Path copy = files.resolve(each.getKey()).resolve(each.getValue().getFileName());
                Files.createDirectories(copy.getParent());
                Files.copy(each.getValue(), copy, StandardCopyOption.REPLACE_EXISTING);
                told.put(each.getKey(), copy.toString());
            }
            if (account.isPresent()) {
                open(files);
            }
        }
        told.put(VARIABLE, place.resolve(NAME).toString());
        return told;
    }

    /** Lets another account read them. */
    private static void open(Path files) throws IOException {
        try (Stream<Path> all = Files.walk(files)) {
            for (Path each : all.toList()) {
                Files.setPosixFilePermissions(
                        each, PosixFilePermissions.fromString(Files.isDirectory(each) ? "rwxr-xr-x" : "rw-r--r--"));
            }
        }
    }

    private static Path place(RunFolder folder, Optional<Account> account) throws IOException {
        if (account.isEmpty()) {
            return Files.createDirectories(folder.path()).toAbsolutePath();
        }
        // another account cannot enter the run's own folder; where this is stands there, for a service that is started
        // anew
        Path place = Files.createTempDirectory(SHARED, "gantrel-result-");
        if (Account.own().isPrivileged()) {
            Files.setOwner(
                    place,
                    place.getFileSystem()
                            .getUserPrincipalLookupService()
                            .lookupPrincipalByName(account.get().name()));
        } else {
            Files.setPosixFilePermissions(place, PosixFilePermissions.fromString("rwx-wx-wx"));
        }
        Files.createDirectories(folder.path());
        Files.writeString(pointer(folder), place.toString());
        return place;
    }

    private static Path pointer(RunFolder folder) {
        return folder.path().resolve("result-at");
    }

    /** Reads what a command left. */
    static Left read(RunFolder folder) {
        Optional<Path> elsewhere = Optional.empty();
        try {
            if (Files.exists(pointer(folder))) {
                elsewhere = Optional.of(Path.of(Files.readString(pointer(folder))));
            }
            Path file = elsewhere.orElse(folder.path()).resolve(NAME);
            if (Files.isSymbolicLink(file)) {
                return new Left(Map.of(), "its result is a link, and is not followed");
            }
            if (!Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
                return Left.NOTHING;
            }
            try (InputStream stream = Files.newInputStream(file, LinkOption.NOFOLLOW_LINKS)) {
                return parse(stream.readNBytes(RunFolder.LARGEST_RESULT + 1));
            }
        } catch (IOException e) {
            return new Left(Map.of(), "its result cannot be read: " + e.getMessage());
        } finally {
            elsewhere.ifPresentOrElse(ResultFile::delete, () -> deleteGiven(folder));
        }
    }

    /** The copies that it was given; the outputs themselves are kept as long as their job says. */
    private static void deleteGiven(RunFolder folder) {
        try (Stream<Path> all = Files.list(folder.path())) {
            all.filter(each -> each.getFileName().toString().startsWith(GIVEN)).forEach(ResultFile::delete);
        } catch (IOException e) {
            LOG.debug("what {} was given stays", folder.path(), e);
        }
    }

    private static void delete(Path place) {
        try {
            FileSystemUtils.deleteRecursively(place);
        } catch (IOException e) {
            LOG.debug("{} stays", place, e);
        }
    }

    private static Left parse(byte[] bytes) {
        if (bytes.length > RunFolder.LARGEST_RESULT) {
            return new Left(
                    Map.of(), "its result is not taken: it has more than " + RunFolder.LARGEST_RESULT + " bytes");
        }
        if (new String(bytes, StandardCharsets.UTF_8).isBlank()) {
            return Left.NOTHING;
        }
        try {
            JsonNode node = JSON.readTree(bytes);
            if (!node.isObject()) {
                return new Left(
                        Map.of(), "its result is not taken: a JSON object is expected, such as {\"total\": 12}");
            }
            var values = new LinkedHashMap<String, String>();
            node.properties()
                    .forEach(entry -> values.put(
                            entry.getKey(),
                            entry.getValue().isString()
                                    ? entry.getValue().asString()
                                    : entry.getValue().toString()));
            values.values().removeIf("null"::equals);
            return new Left(values, "");
        } catch (JacksonException e) {
            return new Left(Map.of(), "its result is not taken: no JSON, " + e.getOriginalMessage());
        }
    }
}
