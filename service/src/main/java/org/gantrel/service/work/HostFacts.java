package org.gantrel.service.work;

import java.io.IOException;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.credential.Credential;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.text.ShellText;
import org.gantrel.service.remote.RemoteCommands;

/** What a gate asks another host: short questions to its shell, with the rights of whom the credential names. */
final class HostFacts {

    private static final int SHORT = 10_000;
    private static final Pattern FILE = Pattern.compile("(\\d{1,18}) (-?\\d{1,12}) (\\d{1,12})");

    /** POSIX, df: blocks in all, used, free, and the share that is used. */
    private static final Pattern SPACE = Pattern.compile("\\s\\d+\\s+\\d+\\s+(-?\\d{1,15})\\s+\\d+%");

    private final RemoteCommands remote;

    HostFacts(RemoteCommands remote) {
        this.remote = remote;
    }

    /**
     * A file as a gate sees it.
     *
     * @param state what is another when it has changed
     * @param age for how long it was not changed, by the clock of its own host
     */
    record Seen(long size, String state, Duration age) {}

    /** A regular file; nothing where none is there. */
    Optional<Seen> file(Credential on, String path) throws IOException, InterruptedException {
        String file = ShellText.quote(path);
        String said = said(
                on,
                "[ -f " + file + " ] || exit 0\nprintf '%s %s\\n' \"$(stat -L -c '%s %Y' -- " + file
                        + ")\" \"$(date +%s)\"\n");
        if (said.isEmpty()) {
            return Optional.empty();
        }
        Matcher found = FILE.matcher(said);
        if (!found.matches()) {
            throw new IOException("the host does not say how large it is, and since when: it needs stat(1)");
        }
        Instant changed = Instant.ofEpochSecond(Long.parseLong(found.group(2)));
        Instant now = Instant.ofEpochSecond(Long.parseLong(found.group(3)));
        return Optional.of(new Seen(
                Long.parseLong(found.group(1)), found.group(1) + " " + found.group(2), Duration.between(changed, now)));
    }

    /** How many bytes are free in the file system of a folder; nothing where no folder is there. */
    Optional<Long> free(Credential on, String folder) throws IOException, InterruptedException {
        String under = ShellText.quote(folder);
        String said = said(on, "[ -d " + under + " ] || exit 0\ndf -Pk -- " + under + "\n");
        if (said.isEmpty()) {
            return Optional.empty();
        }
        Matcher found = SPACE.matcher(said);
        if (!found.find()) {
            throw new IOException("the host does not say how much is free");
        }
        return Optional.of(Long.parseLong(found.group(1)) * 1024);
    }

    /** What Linux says of its load (proc_loadavg(5)). */
    String load(Credential on) throws IOException, InterruptedException {
        return said(on, "cat /proc/loadavg\n");
    }

    private String said(Credential on, String script) throws IOException, InterruptedException {
        if (on.kind() != CredentialKind.SSH) {
            throw new IOException("'" + on.name() + "' is no host: a credential of the kind ssh would be");
        }
        return remote.said(on, "export LC_ALL=C\n" + script, SHORT);
    }
}
