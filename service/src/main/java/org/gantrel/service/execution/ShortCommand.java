package org.gantrel.service.execution;

import java.io.File;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import org.gantrel.core.credential.Credential;
import org.gantrel.service.beside.CharacterSet;
import org.springframework.stereotype.Component;

/** Runs a program of this host that is no run of a job: it reads something, and is through at once. */
@Component
public class ShortCommand {

    private static final int MOST_BYTES = 4_000;
    private static final int KILLED_AFTER = 2;

    /** Of what it writes the beginning is kept, however much it is; its exit code comes by a way of its own. */
    private static final String KEEP_BEGINNING =
            "{ { \"$@\" 2>&1 3>&-; echo \"$?\" >&3; } | { head -c " + MOST_BYTES + "; cat >/dev/null; } >&2; } 3>&1";

    private final Actors actors;

    ShortCommand(Actors actors) {
        this.actors = actors;
    }

    /**
     * How it ended.
     *
     * @param code the exit code; nothing where it did not end by itself
     * @param said the beginning of what it wrote
     */
    public record Ended(Optional<Integer> code, String said) {}

    /**
     * Runs it to its end.
     *
     * @param line the program by its full path, with its arguments
     * @param credential the account that it runs as; nothing for the one that jobs usually run as
     * @param input what stands on its standard input
     * @throws IOException where it cannot be started; the message is for people
     */
    public Ended run(List<String> line, Optional<Credential> credential, String input, Duration patience)
            throws IOException, InterruptedException {
        Optional<Account> account = credential.isPresent()
                ? Optional.of(Account.named(credential.get().fact("account"))
                        .orElseThrow(() -> new IOException(
                                "this host has no account '" + credential.get().fact("account") + "'")))
                : actors.usual();
        // jobs say 'raised: yes' for that, which takes a right of its own
        if (credential.isPresent() && account.filter(Account::isPrivileged).isPresent()) {
            throw new IOException(
                    "the account " + account.get().name() + " may do everything, and no channel acts as it");
        }
        var whole = new ArrayList<>(
                account.map(each -> each.prefix(actors.own(), Map.of())).orElse(List.of()));
        // ended with all that it has started, by one who may
        whole.addAll(List.of("timeout", "-k", String.valueOf(KILLED_AFTER), String.valueOf(patience.toSeconds())));
        whole.addAll(List.of("/bin/sh", "-c", KEEP_BEGINNING, "sh"));
        whole.addAll(line);
        // files: somebody that it leaves behind may hold an output open for ever
        Path said = Files.createTempFile("said", "");
        Path code = Files.createTempFile("code", "");
        try {
            var builder = new ProcessBuilder(whole)
                    .directory(new File("/"))
                    .redirectError(said.toFile())
                    .redirectOutput(code.toFile());
            builder.environment().clear();
            builder.environment().putAll(Launcher.environment(account));
            CharacterSet.OWN.check(builder);
            Process process = builder.start();
            try (OutputStream stream = process.getOutputStream()) {
                stream.write(input.getBytes(StandardCharsets.UTF_8));
            } catch (IOException e) {
                // it need not read all, or anything
            }
            process.waitFor(patience.toSeconds() + 2 * KILLED_AFTER, TimeUnit.SECONDS);
            process.destroyForcibly();
            return new Ended(
                    Optional.of(beginning(code).strip())
                            .filter(text -> text.matches("\\d{1,3}"))
                            .map(Integer::parseInt),
                    beginning(said));
        } finally {
            Files.delete(said);
            Files.delete(code);
        }
    }

    private static String beginning(Path said) throws IOException {
        try (InputStream stream = Files.newInputStream(said)) {
            return new String(stream.readNBytes(MOST_BYTES), StandardCharsets.UTF_8);
        }
    }
}
