package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.DirectoryStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.ScheduledFuture;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import org.gantrel.core.run.Effect.Signal.Force;
import org.gantrel.core.run.RunPolicy;
import org.gantrel.service.time.Stopwatch;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/**
 * Knows which processes belong to a command, and ends those that outlive it: what takes turns relies on a run being over
 * when it is said to be.
 *
 * <p>A command and all it starts are one session (setsid(2)), which survives the command itself; proc(5), field 6 of stat.
 * Whoever leaves the session is found by descent while the command lives: that is noted when the command is asked to stop.
 */
@Component
class LeftBehind implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(LeftBehind.class);
    private static final long LOOK_MILLIS = 50;
    private static final long GUARD_SECONDS = 1;
    private static final int ASKED = 10;

    private final Launcher launcher;
    private final Stopwatch watch;
    private final ScheduledExecutorService guards = Threads.timer("guards");
    private final AtomicLong asks = new AtomicLong();
    private long answered;
    private List<ProcessSeen> seen = List.of();
    /** Those that a command had started when it was asked to stop, by the command's session. */
    private final Map<Long, Set<ProcessMark>> known = new ConcurrentHashMap<>();

    LeftBehind(Launcher launcher, Stopwatch watch) {
        this.launcher = launcher;
        this.watch = watch;
    }

    /** Asks a command to stop, or ends it, with all that it has started. */
    void signal(ProcessMark command, Attempt attempt, Optional<Account> account) throws IOException {
        boolean end = attempt.wanted().filter(force -> force == Force.END).isPresent();
        Set<ProcessMark> started = known.computeIfAbsent(command.pid(), key -> ConcurrentHashMap.newKeySet());
        if (command.isAlive()) {
            descendants(command.pid()).forEach(seen -> started.add(new ProcessMark(seen.pid(), seen.start())));
            launcher.signal(end ? "KILL" : "TERM", List.of(-command.pid()), account);
        }
        List<Long> apart = started.stream()
                .filter(ProcessMark::isAlive)
                .map(ProcessMark::pid)
                .filter(pid -> sessionOf(pid) != command.pid())
                .toList();
        if (!apart.isEmpty()) {
            launcher.signal(end ? "KILL" : "TERM", apart, account);
        }
    }

    /** What a command left behind may go on. */
    void letGo(long session) {
        known.remove(session);
    }

    /**
     * Ends what a command left behind: asked first, then by force.
     *
     * @return what is to be said of it; empty where nothing was left
     */
    String end(long session, Attempt attempt, Optional<Account> account) throws IOException {
        Set<ProcessMark> started = Optional.ofNullable(known.remove(session)).orElse(Set.of());
        Optional<ProcessMark> shell = attempt.folder().claim();
        List<Long> left = left(session, shell, started);
        if (left.isEmpty()) {
            return "";
        }
        int count = left.size();
        long patience = RunPolicy.USUAL_PATIENCE.toNanos();
        for (String signal : List.of("TERM", "KILL")) {
            launcher.signal(signal, left, account);
            long until = watch.nanos() + patience;
            while (!left.isEmpty() && watch.nanos() < until) {
                pause();
                left = left(session, shell, started);
            }
            if (left.isEmpty()) {
                if (attempt.wanted().isPresent()) {
                    return "";
                }
                return count == 1
                        ? "1 process that it left behind was ended"
                        : count + " processes that it left behind were ended";
            }
        }
        return "what it left behind could not be ended: process " + left.get(0);
    }

    /**
     * Ends what keeps the shell around a command from ending although the command has: it waits for the rest of the
     * output, which something that was left behind may hold open.
     */
    void guard(RunFolder folder, long session, CompletableFuture<?> exit, Optional<Account> account) {
        var looks = new AtomicInteger();
        ScheduledFuture<?> look = guards.scheduleWithFixedDelay(
                () -> {
                    try {
                        if (folder.exit().isPresent() && !exit.isDone()) {
                            Set<Long> own = new HashSet<>();
                            own.add(session);
                            descendants(session).forEach(seen -> own.add(seen.pid()));
                            List<Long> left = left(session, folder.claim(), Set.of()).stream()
                                    .filter(pid -> !own.contains(pid))
                                    .toList();
                            if (!left.isEmpty()) {
                                launcher.signal(looks.getAndIncrement() < ASKED ? "TERM" : "KILL", left, account);
                            }
                        }
                    } catch (IOException | RuntimeException e) {
                        LOG.debug("session {} cannot be looked at", session, e);
                    }
                },
                GUARD_SECONDS,
                GUARD_SECONDS,
                TimeUnit.SECONDS);
        exit.whenComplete((code, e) -> look.cancel(false));
    }

    /** @param shell the one around the command, whose number is the session's: where that is another's by now, so is it */
    private List<Long> left(long session, Optional<ProcessMark> shell, Set<ProcessMark> started) throws IOException {
        if (session <= 0) {
            return List.of();
        }
        var left = new LinkedHashSet<Long>();
        List<ProcessSeen> all = all();
        boolean reused = shell.isPresent()
                && all.stream()
                        .anyMatch(seen -> seen.pid() == session
                                && !seen.start().equals(shell.get().start()));
        if (reused) {
            return List.of();
        }
        for (ProcessSeen seen : all) {
            if (seen.isAlive()
                    && (seen.session() == session || started.contains(new ProcessMark(seen.pid(), seen.start())))) {
                left.add(seen.pid());
            }
        }
        return List.copyOf(left);
    }

    private List<ProcessSeen> descendants(long root) throws IOException {
        Map<Long, List<ProcessSeen>> byParent = new HashMap<>();
        all().forEach(seen -> byParent.computeIfAbsent(seen.parent(), key -> new ArrayList<>())
                .add(seen));
        var found = new ArrayList<ProcessSeen>();
        var next = new ArrayList<>(byParent.getOrDefault(root, List.of()));
        while (!next.isEmpty()) {
            ProcessSeen seen = next.remove(next.size() - 1);
            found.add(seen);
            next.addAll(byParent.getOrDefault(seen.pid(), List.of()));
        }
        return found;
    }

    private static long sessionOf(long pid) {
        return ProcessSeen.of(pid).map(ProcessSeen::session).orElse(-1L);
    }

    /**
     * All processes as they are at some moment after this call. Many commands may end at the same time on a host with many
     * processes: whoever asks while somebody else looks shares the next look with all who do.
     */
    private List<ProcessSeen> all() throws IOException {
        long ask = asks.incrementAndGet();
        synchronized (asks) {
            if (answered < ask) {
                long upTo = asks.get();
                seen = look();
                answered = upTo;
            }
            return seen;
        }
    }

    private static List<ProcessSeen> look() throws IOException {
        var all = new ArrayList<ProcessSeen>();
        try (DirectoryStream<Path> folders = Files.newDirectoryStream(Path.of("/proc"), "[0-9]*")) {
            folders.forEach(folder -> ProcessSeen.of(folder).ifPresent(all::add));
        }
        return all;
    }

    private static void pause() {
        try {
            Thread.sleep(LOOK_MILLIS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new IllegalStateException("interrupted", e);
        }
    }

    @Override
    public void destroy() {
        guards.shutdownNow();
    }
}
