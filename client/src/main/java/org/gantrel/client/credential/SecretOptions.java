package org.gantrel.client.credential;

import java.io.IOException;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.stream.Collectors;
import org.gantrel.client.LoginCommand;
import org.gantrel.client.TextFile;
import org.gantrel.client.Wrong;
import picocli.CommandLine.Option;

/** How secrets come into a command: asked for, read from standard input, or from files. Never as an argument. */
final class SecretOptions {

    @Option(
            names = "--secret",
            paramLabel = "PART",
            description = "Which part is asked for: password, key, passphrase, token or value.")
    private String part;

    @Option(names = "--secret-stdin", description = "Reads the secret from standard input instead of asking.")
    private boolean fromInput;

    @Option(
            names = "--secret-file",
            paramLabel = "PART=FILE",
            description = "Reads a part from a file, such as key=id_ed25519; with --secret passphrase too.")
    private Map<String, Path> files = Map.of();

    /** The parts of a secret by their names. Keys have many lines, so all of the input is taken. */
    Map<String, Object> read(String kind) throws IOException {
        var parts = new LinkedHashMap<String, Object>();
        for (Map.Entry<String, Path> file : files.entrySet()) {
            parts.put(file.getKey(), secret(TextFile.read(file.getValue())));
        }
        if (parts.isEmpty() || part != null || fromInput) {
            String name = part == null ? usual(kind) : part;
            parts.put(name, fromInput ? input() : LoginCommand.secret(false, "The " + name + ": "));
        }
        return parts;
    }

    /** Editors and echo(1) end a line; a password that is the whole of it has no such end. */
    private static String secret(String content) {
        return content.lines().count() == 1 ? content.replaceFirst("\\R$", "") : content;
    }

    private static String usual(String kind) {
        return switch (kind) {
            case "http-bearer" -> "token";
            case "http-header", "secret" -> "value";
            default -> "password";
        };
    }

    private static String input() {
        String text = TextFile.read(Path.of("-")).lines().collect(Collectors.joining("\n"));
        if (text.isBlank()) {
            throw new Wrong("standard input holds no secret");
        }
        return text;
    }
}
