package org.gantrel.core.trigger;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import org.gantrel.core.event.EventType;

/**
 * Decides what a look at a folder tells, against what is known of it. A file has come when it is there as it was for a while,
 * or when its marker is; it is told of once, and again only when another has taken its place or it was written to again.
 */
public final class FolderCourse {

    /** A file as it is. */
    public record Seen(long size, Instant modified) {}

    /**
     * A file as it is known.
     *
     * @param told whether nothing is left to be told of it as it is
     * @param fresh whether it was never complete so far
     * @param since when it was first seen as it is
     */
    public record Known(Seen as, boolean told, boolean fresh, Instant since) {

        /** The same; where the clock was put back it counts from then. */
        private Known asOf(Instant now) {
            return since.isAfter(now) ? new Known(as, told, fresh, now) : this;
        }
    }

    /** What is to be told. @param path from the folder */
    public record Found(String path, Seen as) {}

    /**
     * What a look comes to.
     *
     * @param now what is known from now on of the paths that were looked at; nothing for one that is gone
     * @param found what is to be told
     * @param came whether something came or was changed
     * @param again when one of them is to be looked at again
     */
    public record Result(Map<String, Optional<Known>> now, List<Found> found, boolean came, Optional<Instant> again) {}

    private final EventType on;
    private final FileWatch watch;
    private final Instant at;
    private final Map<String, Optional<Known>> after = new HashMap<>();
    private final List<Found> found = new ArrayList<>();
    private boolean came;
    private Instant again;

    private FolderCourse(EventType on, FileWatch watch, Instant at) {
        this.on = on;
        this.watch = watch;
        this.at = at;
    }

    /**
     * What a look tells. Takes time that grows with the number of paths that were looked at.
     *
     * @param on the type of event that is waited for
     * @param known what is known, by path from the folder
     * @param looked what was looked at: what is there, and nothing for what is not
     * @param marked whether the marker of a path is there
     * @param first whether the folder is looked at for the first time: what is there then has not come, it was there
     */
    public static Result look(
            EventType on,
            FileWatch watch,
            Map<String, Known> known,
            Map<String, Optional<Seen>> looked,
            Predicate<String> marked,
            boolean first,
            Instant now) {
        var course = new FolderCourse(on, watch, now);
        looked.forEach((path, seen) -> course.one(path, Optional.ofNullable(known.get(path)), seen, marked, first));
        return new Result(course.after, course.found, course.came, Optional.ofNullable(course.again));
    }

    private void one(
            String path, Optional<Known> before, Optional<Seen> seen, Predicate<String> marked, boolean first) {
        if (seen.isEmpty()) {
            before.ifPresent(known -> {
                after.put(path, Optional.empty());
                if (on == EventType.FILE_GONE) {
                    found.add(new Found(path, known.as()));
                }
            });
            return;
        }
        Seen is = seen.get();
        boolean same = before.filter(known -> known.as().equals(is)).isPresent();
        came |= !same && !first;
        Known now = same
                ? before.get().asOf(at)
                : new Known(
                        is,
                        isToldAt(first),
                        before.map(known -> known.fresh() && !known.told()).orElse(true),
                        at);
        if (!now.told()) {
            now = look(path, now, marked);
        }
        if (!same || !now.equals(before.get())) {
            after.put(path, Optional.of(now));
        }
    }

    /** Whether nothing is to be told of a file that is seen as it was not before. */
    private boolean isToldAt(boolean first) {
        return switch (on) {
            case FILE_ARRIVED, FILE_CHANGED -> first;
            case FILE_AGED -> false;
            default -> true;
        };
    }

    private Known look(String path, Known now, Predicate<String> marked) {
        Optional<Instant> due = due(path, now, marked);
        if (due.isEmpty() || at.isBefore(due.get())) {
            due.filter(next -> again == null || next.isBefore(again)).ifPresent(next -> again = next);
            return now;
        }
        boolean onlyChanges = on == EventType.FILE_CHANGED && now.fresh();
        if (!onlyChanges) {
            found.add(new Found(path, now.as()));
        }
        return new Known(now.as(), true, false, now.since());
    }

    /** When something is to be told of a file that stays as it is; nothing where that is not for the clock to say. */
    private Optional<Instant> due(String path, Known now, Predicate<String> marked) {
        if (on == EventType.FILE_AGED) {
            return Optional.of(now.as().modified().plus(watch.age().orElse(Duration.ZERO)));
        }
        if (!watch.marker().isEmpty()) {
            return marked.test(path) ? Optional.of(at) : Optional.empty();
        }
        // the file's own clock may be another, so that it has to look the same for as long by this one
        Instant byThisClock = now.since().plus(watch.settled());
        Instant byItsOwn = now.as().modified().plus(watch.settled());
        return Optional.of(byItsOwn.isBefore(byThisClock) ? byItsOwn : byThisClock);
    }
}
