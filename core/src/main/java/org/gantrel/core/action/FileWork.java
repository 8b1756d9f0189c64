package org.gantrel.core.action;

import java.time.Duration;
import java.util.Locale;
import java.util.Optional;
import org.gantrel.core.expression.Bindings;
import org.gantrel.core.run.Emptiness;

/**
 * Something done with those files under a root that are chosen by name, age and size.
 *
 * @param root nothing outside of it is touched
 * @param matching a glob over paths from the root, such as {@code **}{@code /*.csv}
 * @param to where files are moved, copied or compressed to; for a deletion, the folder that takes them instead
 * @param deep whether files of folders below belong to it
 * @param whenEmpty what it means that no file is chosen
 * @param atMost more files than this are refused, and nothing is done
 */
public record FileWork(
        Deed deed,
        String root,
        String matching,
        Optional<Duration> olderThan,
        Optional<Duration> newerThan,
        Optional<Long> largerThan,
        Optional<Long> smallerThan,
        String to,
        int atMost,
        boolean deep,
        Emptiness whenEmpty)
        implements Action {

    public static final int USUAL_CAP = 1_000;

    /** What is done with each file. */
    public enum Deed {
        LIST,
        DELETE,
        MOVE,
        COPY,
        COMPRESS;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        /** Whether it needs to be told where to. */
        public boolean needsPlace() {
            return this == MOVE || this == COPY;
        }
    }

    @Override
    public String kind() {
        return "files";
    }

    @Override
    public FileWork fill(Bindings known) {
        return new FileWork(
                deed,
                known.fill(root),
                known.fillGlob(matching),
                olderThan,
                newerThan,
                largerThan,
                smallerThan,
                known.fill(to),
                atMost,
                deep,
                whenEmpty);
    }
}
