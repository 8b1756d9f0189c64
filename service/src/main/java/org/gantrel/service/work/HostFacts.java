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

    /** How many files, their bytes, the latest change, the host's own time; and the checksum of all that. */
    private static final Pattern FILES =
            Pattern.compile("^(\\d{1,9}) (\\d{1,18}) (-?\\d{1,12}) (\\d{1,12})\\s+(\\d+ \\d+)");

    /** POSIX, df: blocks in all, used, free, and the share that is used. */
    private static final Pattern SPACE = Pattern.compile("\\s\\d+\\s+\\d+\\s+(-?\\d{1,15})\\s+\\d+%");

    private final RemoteCommands remote;

    HostFacts(RemoteCommands remote) {
        this.remote = remote;
    }

    /**
     * A file as a gate sees it, or several that match a glob.
     *
     * @param files how many
     * @param size of all of them
     * @param state what is another when it has changed
     * @param age for how long none was changed, by the clock of its own host
     */
    record Seen(int files, long size, String state, Duration age) {}

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
                1,
                Long.parseLong(found.group(1)),
                found.group(1) + " " + found.group(2),
                Duration.between(changed, now)));
    }

    /** The regular files of a folder whose names match a glob; nothing where there are none. */
    Optional<Seen> files(Credential on, String folder, String glob) throws IOException, InterruptedException {
        String said = said(
                on,
                """
                cd -- %s 2>/dev/null || exit 0
                all=$(find . -maxdepth 1 -name %s -exec stat -L -c '%%F %%s %%Y' -- {} + 2>/dev/null | grep '^regular ' | sort)
                [ -n "$all" ] || exit 0
                printf '%%s\\n' "$all" | awk '{ bytes += $(NF - 1); if (NR == 1 || $NF > last) last = $NF }
                    END { printf "%%d %%.0f %%.0f ", NR, bytes, last }'
                date +%%s
                printf '%%s\\n' "$all" | cksum
                """
                        .formatted(ShellText.quote(folder), ShellText.quote(glob)));
        if (said.isEmpty()) {
            return Optional.empty();
        }
        Matcher found = FILES.matcher(said);
        if (!found.find()) {
            throw new IOException("the host does not say which there are: it needs find(1), stat(1) and awk(1)");
        }
        Instant changed = Instant.ofEpochSecond(Long.parseLong(found.group(3)));
        Instant now = Instant.ofEpochSecond(Long.parseLong(found.group(4)));
        return Optional.of(new Seen(
                Integer.parseInt(found.group(1)),
                Long.parseLong(found.group(2)),
                found.group(5),
                Duration.between(changed, now)));
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
