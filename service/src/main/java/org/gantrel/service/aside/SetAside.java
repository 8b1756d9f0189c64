package org.gantrel.service.aside;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Supplier;
import org.gantrel.core.access.Deed;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.time.Stopwatch;
import org.gantrel.service.time.Waker;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/**
 * Keeps apart what the engine could not deal with, so that nothing else waits for it. What fails is tried again after a
 * pause; what fails for the third time is set aside: it is told, and tried again now and then, or when somebody says so.
 *
 * <p>It lives in memory: it must work where the database does not. After a restart everything is tried anew. Its pauses
 * are measured on a watch: nothing waits longer because the clock was put back.
 */
@Component
public class SetAside {

    private static final Logger LOG = LoggerFactory.getLogger(SetAside.class);
    private static final int TRIES = 3;
    private static final int MOST = 1_000;
    private static final List<Duration> PAUSES = List.of(Duration.ofSeconds(1), Duration.ofSeconds(5));
    private static final Duration SLOW_PAUSE = Duration.ofMinutes(5);
    private static final Duration PAUSE_FOR_ROOM = Duration.ofSeconds(2);
    private static final Duration LONGEST_PAUSE = Duration.ofHours(1);
    /** What is overdue was just missed, or is for others than the engine: it must not go round and round for it. */
    private static final Duration SOON = Duration.ofSeconds(1);
    /** What nobody has come back for so long after its time is no more: its schedule was taken away, its mail too. */
    private static final Duration NOBODY_COMES = Duration.ofMinutes(10);

    /** What can be set aside. */
    public enum Kind {
        SCHEDULE(
                "nothing of this schedule starts until it is mended; look at its job, roster and calendar, save the job, or try again"),
        WAITING_RUN("the run waits; look at its job and credential, cancel the run, or try again"),
        CHAIN("its next steps wait; look at the jobs of its steps, cancel the run, or try again"),
        SWEEP("its next rows wait; look at the job and the roster, cancel the run, or try again"),
        END(
                "the work is over and stands as running until it is mended; look at the disk and the service's log, and try again"),
        WISH("what was asked for is not done; ask again, or try again"),
        EVENT("nobody is told of it by mail until it is mended; look at the service's log, and try again"),
        DELIVERY("the mail waits; look at the mail server's settings and the service's log, and try again");

        private final String help;

        Kind(String help) {
            this.help = help;
        }

        /** What it means, and what would mend it. */
        String help() {
            return help;
        }

        public String word() {
            return name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
        }
    }

    /**
     * One thing that cannot be dealt with.
     *
     * @param id tells it from others of its kind
     * @param name what people call it
     * @param team whose it is; empty where that is not known
     */
    public record Thing(Kind kind, long id, String name, String team) {}

    /**
     * Something that failed.
     *
     * @param isAside whether it failed often enough to be set aside
     */
    public record Entry(Thing thing, String reason, Instant since, int tries, Instant nextTry, boolean isAside) {}

    /** @param nextTry on the watch */
    private record Failure(Thing thing, String reason, Instant since, int tries, long nextTry, boolean isAside) {

        private Failure next(long at) {
            return new Failure(thing, reason, since, tries, at, isAside);
        }
    }

    private record Key(Kind kind, long id) {
        static Key of(Thing thing) {
            return new Key(thing.kind(), thing.id());
        }
    }

    private static final List<Kind> OF_RUNS = List.of(Kind.WAITING_RUN, Kind.CHAIN, Kind.SWEEP, Kind.END, Kind.WISH);

    private final Journal journal;
    private final Waker waker;
    private final Clock clock;
    private final Stopwatch watch;
    private final Map<Key, Failure> failed = new LinkedHashMap<>();

    SetAside(Journal journal, Waker waker, Clock clock, Stopwatch watch) {
        this.watch = watch;
        this.journal = journal;
        this.waker = waker;
        this.clock = clock;
    }

    /**
     * Deals with one thing, unless it failed a moment ago. What goes wrong with it, an Error too, goes no further.
     *
     * @return whether it was dealt with
     */
    public boolean attempt(Thing thing, Runnable dealing) {
        return attempt(thing.kind(), thing.id(), () -> thing, dealing);
    }

    /** The same where what people call the thing is only asked when something is wrong with it. */
    public boolean attempt(Kind kind, long id, Supplier<Thing> named, Runnable dealing) {
        if (isHeld(kind, id)) {
            return false;
        }
        try {
            dealing.run();
            if (!isEmpty()) {
                dealtWith(kind, id);
            }
            return true;
        } catch (Throwable e) {
            failed(named.get(), e);
            return false;
        }
    }

    /** Whether a thing is left alone for now. */
    public synchronized boolean isHeld(Kind kind, long id) {
        if (failed.isEmpty()) {
            return false;
        }
        Failure failure = failed.get(new Key(kind, id));
        return failure != null && isHeld(failure);
    }

    /** Whether a thing failed, and was not dealt with since. */
    public synchronized boolean hasFailed(Kind kind, long id) {
        return failed.containsKey(new Key(kind, id));
    }

    /** The things of a kind that are left alone for now. */
    public synchronized List<Long> held(Kind kind) {
        return failed.values().stream()
                .filter(failure -> failure.thing().kind() == kind && isHeld(failure))
                .map(failure -> failure.thing().id())
                .toList();
    }

    private boolean isHeld(Failure failure) {
        return failure.nextTry() - watch.nanos() > 0;
    }

    /** How long until something that failed is to be tried again; never at once. */
    public synchronized Optional<Duration> next() {
        failed.values().removeIf(failure -> left(failure).plus(NOBODY_COMES).isNegative());
        return failed.values().stream()
                .map(this::left)
                .min(Comparator.naturalOrder())
                .map(least -> least.compareTo(SOON) < 0 ? SOON : least);
    }

    private Duration left(Failure failure) {
        return Duration.ofNanos(failure.nextTry() - watch.nanos());
    }

    /** All that is set aside. */
    public synchronized List<Entry> all() {
        Instant now = clock.instant();
        return failed.values().stream()
                .filter(Failure::isAside)
                .map(failure -> new Entry(
                        failure.thing(),
                        failure.reason(),
                        failure.since(),
                        failure.tries(),
                        now.plus(left(failure)),
                        true))
                .toList();
    }

    /** What is set aside and somebody may know of. */
    public List<AsideView> seenBy(Caller caller) {
        return all().stream()
                .filter(entry -> isSeenBy(entry, caller))
                .map(entry -> new AsideView(
                        entry.thing().kind().word(),
                        entry.thing().id(),
                        entry.thing().name(),
                        entry.thing().team().isEmpty() ? null : entry.thing().team(),
                        entry.reason(),
                        entry.since(),
                        entry.tries(),
                        entry.nextTry(),
                        entry.thing().kind().help()))
                .toList();
    }

    static boolean isSeenBy(Entry entry, Caller caller) {
        String team = entry.thing().team();
        return team.isEmpty() ? caller.administrator() : caller.may(Deed.SEE_RUNS, team);
    }

    /** Lets a thing be tried again at once; says whether it was set aside. */
    public boolean tryAgain(Kind kind, long id) {
        synchronized (this) {
            Failure failure = failed.get(new Key(kind, id));
            if (failure == null) {
                return false;
            }
            failed.put(Key.of(failure.thing()), failure.next(watch.nanos()));
        }
        waker.wake();
        return true;
    }

    private synchronized boolean isEmpty() {
        return failed.isEmpty();
    }

    /** Forgets what failed with a thing that is well now, or gone. */
    public synchronized void dealtWith(Kind kind, long id) {
        failed.remove(new Key(kind, id));
    }

    /** Forgets what failed with a run that has ended: nothing of it is tried again. */
    public synchronized void ended(long run) {
        if (!failed.isEmpty()) {
            OF_RUNS.forEach(kind -> failed.remove(new Key(kind, run)));
        }
    }

    /** Notes that a thing could not be dealt with. Where the disk is full that is no fault of the thing, and no try of it. */
    public void failed(Thing thing, Throwable why) {
        if (why instanceof Refusal refusal && refusal.isNoRoom()) {
            waitForRoom(thing, refusal);
            return;
        }
        Failure failure;
        boolean first;
        synchronized (this) {
            Failure before = failed.get(Key.of(thing));
            int tries = before == null ? 1 : before.tries() + 1;
            boolean aside = tries >= TRIES;
            first = aside && (before == null || !before.isAside());
            failure = new Failure(
                    thing,
                    reason(why),
                    before == null ? clock.instant() : before.since(),
                    tries,
                    after(pause(tries)),
                    aside);
            if (before != null || failed.size() < MOST) {
                failed.put(Key.of(thing), failure);
            }
        }
        LOG.warn("{} {} could not be dealt with (try {})", thing.kind().word(), thing.name(), failure.tries(), why);
        if (first) {
            tell(failure);
        }
    }

    private synchronized void waitForRoom(Thing thing, Refusal why) {
        Failure before = failed.get(Key.of(thing));
        if (before == null) {
            before = new Failure(thing, why.getMessage(), clock.instant(), 0, watch.nanos(), false);
        }
        if (before.tries() == 0 && failed.size() >= MOST) {
            return;
        }
        failed.put(Key.of(thing), before.next(after(PAUSE_FOR_ROOM)));
    }

    private long after(Duration pause) {
        return watch.nanos() + pause.toNanos();
    }

    private void tell(Failure failure) {
        try {
            journal.write(
                    "gantrel.engine.set-aside",
                    failure.thing().team(),
                    Map.of(
                            "kind",
                            failure.thing().kind().word(),
                            "name",
                            failure.thing().name(),
                            "reason",
                            failure.reason()));
        } catch (RuntimeException e) {
            LOG.warn(
                    "nobody could be told that {} is set aside", failure.thing().name(), e);
        }
    }

    private static Duration pause(int tries) {
        if (tries <= PAUSES.size()) {
            return PAUSES.get(tries - 1);
        }
        Duration longer = SLOW_PAUSE.multipliedBy(1L << Math.min(4, tries - TRIES));
        return longer.compareTo(LONGEST_PAUSE) < 0 ? longer : LONGEST_PAUSE;
    }

    /** What the innermost cause says, in one line. */
    private static String reason(Throwable why) {
        var seen = new ArrayList<Throwable>();
        Throwable cause = why;
        while (cause.getCause() != null && !seen.contains(cause.getCause())) {
            seen.add(cause);
            cause = cause.getCause();
        }
        String said = cause.getMessage() == null
                ? ""
                : cause.getMessage().lines().findFirst().orElse("");
        // the statement that H2 adds is for nobody who reads this
        String text = said.isEmpty() ? cause.getClass().getSimpleName() : said.replaceFirst(";? *SQL statement:.*", "");
        return text.length() <= 300 ? text : text.substring(0, 297) + "...";
    }
}
