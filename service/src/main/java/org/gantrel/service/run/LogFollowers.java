package org.gantrel.service.run;

import jakarta.annotation.PreDestroy;
import java.io.Closeable;
import java.io.IOException;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.service.journal.LiveLogs;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Callers;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Those who watch a log grow. Each is sent to by a thread of its own, so that one who stalls stops no other. */
@Component
class LogFollowers implements LiveLogs {

    private static final Logger LOG = LoggerFactory.getLogger(LogFollowers.class);
    private static final int PIECE = 64 * 1024;
    private static final int MOST = 400;
    private static final int THREADS = 100;
    private static final int MOST_EACH = 20;
    private static final long LOOK_EVERY_MILLIS = 200;
    private static final long BEAT_NANOS = TimeUnit.SECONDS.toNanos(15);
    private static final long JUDGE_EVERY_NANOS = TimeUnit.SECONDS.toNanos(5);
    private static final Pattern ASKED = Pattern.compile("(\\d{1,18})(?:@(\\d{1,18}))?");

    /** What a reader is told of a log. */
    interface Reader {

        /** Whether it may be told anything yet. */
        default boolean ready() {
            return true;
        }

        /** @return false where it is behind; the piece is then read again later */
        boolean lines(int attempt, RunLogs.Piece piece) throws IOException;

        /** The next try has a log of its own. */
        void newTry(int attempt) throws IOException;

        void end(RunState state) throws IOException;

        /** That the line is still open, from time to time. */
        void beat() throws IOException;

        /** Nothing more will be told. */
        void leave();
    }

    private final RunAccess access;
    private final Callers callers;
    private final Runs runs;
    private final RunLogs logs;
    private final List<Follower> followers = new CopyOnWriteArrayList<>();
    private final ScheduledExecutorService looker = Threads.timer("log-looks");
    private final ExecutorService senders = Threads.pool("log-followers", THREADS);

    LogFollowers(RunAccess access, Callers callers, Runs runs, RunLogs logs) {
        this.access = access;
        this.callers = callers;
        this.runs = runs;
        this.logs = logs;
        looker.scheduleWithFixedDelay(this::look, LOOK_EVERY_MILLIS, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
    }

    Closeable follow(Caller caller, long number, long from, Reader reader) {
        access.visible(caller, number);
        List<Follower> staying = followers.stream().filter(each -> !each.left).toList();
        if (staying.size() >= MOST) {
            throw Refusal.tooMany("already " + MOST + " follow a log; try again later");
        }
        List<Follower> own =
                staying.stream().filter(each -> each.name.equals(caller.name())).toList();
        // one that was left is only noticed when something is written to it: the oldest go first
        own.stream().limit(Math.max(0, own.size() - MOST_EACH + 1)).forEach(each -> each.left = true);
        var follower = new Follower(caller, number, from, reader);
        followers.add(follower);
        return () -> followers.remove(follower);
    }

    @Override
    public Closeable follow(Caller caller, String asked, Sink sink) {
        Matcher parts = ASKED.matcher(asked);
        if (!parts.matches()) {
            throw new InvalidException(
                    "log", "'" + asked + "' is not a run's number with the byte to go on from, such as 1204@8192");
        }
        long number = Long.parseLong(parts.group(1));
        long from = parts.group(2) == null ? 0 : Long.parseLong(parts.group(2));
        return follow(caller, number, from, new Offered(number, sink));
    }

    /** What goes into a stream with other things names its run. */
    private record Offered(long run, Sink sink) implements Reader {

        record Lines(long run, int attempt, String text, long from, long to) {}

        record NextTry(long run, int attempt) {}

        record End(long run, String state) {}

        @Override
        public boolean lines(int attempt, RunLogs.Piece piece) {
            return sink.offer("log.lines", new Lines(run, attempt, piece.text(), piece.from(), piece.to()));
        }

        @Override
        public void newTry(int attempt) {
            sink.offer("log.try", new NextTry(run, attempt));
        }

        @Override
        public void end(RunState state) {
            sink.offer("log.end", new End(run, state.word()));
        }

        @Override
        public void beat() {
            // the stream has a beat of its own
        }

        @Override
        public void leave() {
            sink.offer("log.end", new End(run, "gone"));
        }
    }

    private final class Follower {
        private final AtomicBoolean busy = new AtomicBoolean();
        private final Reader reader;
        private final String name;
        private final long number;
        private long at;
        private int attempt;
        private long lastTold = System.nanoTime();
        private long lastJudged = System.nanoTime();
        /** Has to make room; whoever may be in the middle of telling it something ends it. */
        private volatile boolean left;

        private Follower(Caller caller, long number, long from, Reader reader) {
            this.reader = reader;
            this.name = caller.name();
            this.number = number;
            this.at = from;
            this.attempt = runs.find(number).map(Run::attempt).orElse(1);
        }

        private void lookSoon() {
            if (reader.ready() && busy.compareAndSet(false, true)) {
                senders.execute(() -> {
                    try {
                        look();
                    } finally {
                        busy.set(false);
                    }
                });
            }
        }

        /** Tells what is new; ends with the run, or when they may see it no longer. */
        private void look() {
            try {
                if (left) {
                    followers.remove(this);
                    reader.leave();
                    return;
                }
                judge();
                // the state is read before the log, so that nothing written before the end is left out
                Run run = runs.find(number).orElseThrow();
                if (!tellLines(run)) {
                    return;
                }
                if (run.attempt() != attempt && run.state() != RunState.WAITING) {
                    attempt = run.attempt();
                    at = 0;
                    reader.newTry(attempt);
                    lastTold = System.nanoTime();
                } else if (run.state().isEnded()) {
                    followers.remove(this);
                    reader.end(run.state());
                } else if (System.nanoTime() - lastTold > BEAT_NANOS) {
                    reader.beat();
                    lastTold = System.nanoTime();
                }
            } catch (Throwable e) {
                LOG.debug("a log is followed no longer", e);
                followers.remove(this);
                reader.leave();
            }
        }

        /** Rights are those of now, not of when the following began. */
        private void judge() {
            if (System.nanoTime() - lastJudged > JUDGE_EVERY_NANOS) {
                Caller caller = callers.callerNamed(name).orElseThrow(() -> Refusal.notSignedIn("gone"));
                access.visible(caller, number);
                lastJudged = System.nanoTime();
            }
        }

        /** Tells all whole lines there are; false where the reader is behind. */
        private boolean tellLines(Run run) throws IOException {
            RunLogs.Piece piece = logs.read(run, attempt, at, PIECE);
            while (piece.to() > at) {
                if (!reader.lines(attempt, piece)) {
                    return false;
                }
                at = piece.to();
                lastTold = System.nanoTime();
                piece = logs.read(run, attempt, at, PIECE);
            }
            return true;
        }
    }

    private void look() {
        try {
            followers.forEach(Follower::lookSoon);
        } catch (Throwable e) {
            LOG.warn("a look at the logs failed", e);
        }
    }

    @PreDestroy
    void close() {
        looker.shutdownNow();
        followers.forEach(follower -> follower.left = true);
        look();
        senders.shutdown();
    }
}
