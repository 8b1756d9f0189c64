package org.gantrel.client.api;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Optional;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** Where {@code gantrel login} keeps tokens, by the address of the service: a file that only its user can read. */
public final class SignInFile {

    private static final JsonMapper JSON = new JsonMapper();

    private final Path file;

    public SignInFile() {
        String config = System.getenv("XDG_CONFIG_HOME");
        Path folder = config == null || config.isBlank() ? home().resolve(".config") : Path.of(config);
        this.file = folder.resolve("gantrel").resolve("sign-in.json");
    }

    /** Where the environment says that people keep their own, and only then where the account does. */
    private static Path home() {
        String home = System.getenv("HOME");
        return Path.of(home == null || home.isBlank() ? System.getProperty("user.home") : home);
    }

    public Optional<String> token(String url) {
        return Optional.ofNullable(read().path(url).asString(null));
    }

    public void keep(String url, String token) {
        ObjectNode all = read();
        all.put(url, token);
        write(all);
    }

    public void forget(String url) {
        ObjectNode all = read();
        all.remove(url);
        write(all);
    }

    private ObjectNode read() {
        try {
            return Files.exists(file) ? (ObjectNode) JSON.readTree(Files.readString(file)) : JSON.createObjectNode();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    private void write(ObjectNode all) {
        try {
            Files.createDirectories(file.getParent());
            var onlyUser = PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------"));
            Path fresh = Files.createTempFile(file.getParent(), "sign-in", ".json", onlyUser);
            Files.writeString(fresh, JSON.writeValueAsString(all));
            Files.move(fresh, file, StandardCopyOption.REPLACE_EXISTING, StandardCopyOption.ATOMIC_MOVE);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
