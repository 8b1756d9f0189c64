package org.gantrel.core.trigger;

import java.time.Duration;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.text.Glob;

/**
 * A folder that a trigger watches, and which of its files count.
 *
 * @param folder its full path
 * @param matching globs, of which the path from the folder has to match one
 * @param deepest how many folders deep it looks; 1 for the folder itself
 * @param settled how long a file has to stay as it is before it counts as complete
 * @param marker the ending of a file beside it that says it is complete, such as {@code .done}; empty where none is needed
 * @param age from which age on a file counts, for {@code file.aged}
 * @param silence for how long nothing may come, for {@code folder.silent}
 * @param lookEvery how often it is looked at; nothing where the system tells of changes, as far as it can
 * @param host the credential of another host, reached over SSH; empty for this one
 */
public record FileWatch(
        String folder,
        List<String> matching,
        int deepest,
        Duration settled,
        String marker,
        Optional<Duration> age,
        Optional<Duration> silence,
        Optional<Duration> lookEvery,
        String host) {

    public static final int DEEPEST = 10;
    public static final Duration USUALLY_SETTLED = Duration.ofSeconds(5);

    public FileWatch {
        matching = List.copyOf(matching);
    }

    /** Whether a path from the folder is one of those that count. */
    public boolean isFor(String path) {
        return (marker.isEmpty() || !path.endsWith(marker))
                && path.chars().filter(letter -> letter == '/').count() < deepest
                && matching.stream().anyMatch(glob -> glob(glob, path));
    }

    private static boolean glob(String glob, String path) {
        // a glob without a folder means names at any depth
        String against = glob.contains("/") ? path : path.substring(path.lastIndexOf('/') + 1);
        return Glob.of(glob).matches(against);
    }

    /** The same in words. */
    public String words() {
        return String.join(" or ", matching) + " in " + folder + (host.isEmpty() ? "" : " on " + host);
    }
}
