package org.gantrel.service.watch;

import java.time.Duration;
import java.time.Instant;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.trigger.FolderCourse.Known;
import org.gantrel.service.trigger.Listening;

/** A trigger that looks for its events itself, while the service is up. */
final class Watch implements Inotify.Ear {

    /** Beyond so many names a look at the whole folder is cheaper. */
    private static final int MOST_NAMES = 5_000;

    /** Even a folder of a million files is read in less. */
    static final Duration LONG = Duration.ofMinutes(2);

    private final Listening of;
    private final String looksAt;
    private final Runnable bell;
    private final Set<String> names = new HashSet<>();
    private Map<String, Known> known;
    private boolean whole = true;
    private boolean heard;
    private boolean looking;
    private boolean first;
    private Instant since = Instant.EPOCH;
    private boolean said;
    private Instant next = Instant.EPOCH;
    private Instant notBefore = Instant.EPOCH;
    private Instant nextWhole = Instant.EPOCH;

    Watch(Listening of, String looksAt, Runnable bell) {
        this.of = of;
        this.looksAt = looksAt;
        this.bell = bell;
    }

    Listening of() {
        return of;
    }

    /** What it looks at, in words that change when that does. */
    String looksAt() {
        return looksAt;
    }

    @Override
    public void accept(Set<String> told) {
        synchronized (this) {
            if (told == null) {
                whole = true;
                heard = false;
            } else {
                names.addAll(told);
                whole |= names.size() > MOST_NAMES;
            }
            next = notBefore;
        }
        bell.run();
    }

    /** Begins a look where one is due, or where the clock was put back since the last; says whether it does. */
    synchronized boolean begin(Instant now) {
        boolean isPutBack = since.isAfter(now);
        if (looking || !isPutBack && next.isAfter(now) && nextWhole.isAfter(now)) {
            return false;
        }
        looking = true;
        since = now;
        said = false;
        whole |= isPutBack || !nextWhole.isAfter(now);
        return true;
    }

    /** Whether a look has gone on for so long that it has to be said; that is so once a look. */
    synchronized boolean hangs(Instant now) {
        boolean hangs = looking && !said && !now.isBefore(since.plus(LONG));
        said |= hangs;
        return hangs;
    }

    /** What is to be looked at: some names, or everything where there are none. */
    synchronized Set<String> take() {
        Set<String> taken = whole || known == null ? Set.of() : Set.copyOf(names);
        names.clear();
        whole = false;
        return taken;
    }

    /**
     * Ends a look.
     *
     * @param again when some names are to be looked at again
     * @param soonest before that nothing is looked at, whatever is heard
     * @param all when everything is
     */
    synchronized void end(Instant again, Set<String> unsettled, Instant soonest, Instant all) {
        looking = false;
        nextWhole = all;
        notBefore = soonest;
        boolean more = !names.isEmpty() || whole;
        names.addAll(unsettled);
        next = more ? soonest : again;
    }

    /** Has everything be looked at again at a time, since a look failed. */
    synchronized void failed(Instant again) {
        looking = false;
        whole = true;
        next = again;
        nextWhole = again;
    }

    synchronized Instant due() {
        return looking ? Instant.MAX : next.isBefore(nextWhole) ? next : nextWhole;
    }

    /** Whether the system tells of changes. */
    synchronized boolean isHeard() {
        return heard;
    }

    synchronized void heard(boolean yes) {
        heard = yes;
    }

    /** What is known; null before the first look since the start. Only ever used by the look under way. */
    Map<String, Known> known() {
        return known;
    }

    void know(Map<String, Known> all, boolean firstLook) {
        known = all;
        first = firstLook;
    }

    /** Whether it has never looked at this. */
    boolean isFirst() {
        return first;
    }

    void lookedOnce() {
        first = false;
    }
}
