package org.gantrel.service.journal;

import jakarta.annotation.PreDestroy;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.SynchronousQueue;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.service.live.LiveLine;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Callers;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.http.MediaType;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Live changes as server-sent events (WHATWG HTML, 9.2), read from the journal: they go on where a reader left off, after
 * a restart too. Each watcher has a thread while it is sent something, so that one who does not read stops nobody else.
 */
@RestController
class EventApi {

    private static final Logger LOG = LoggerFactory.getLogger(EventApi.class);
    private static final int MOST_WATCHERS = 400;
    private static final int MOST_EACH = 20;
    private static final int MOST_LOGS = 10;

    private final Journal journal;
    private final Callers callers;
    private final LiveLogs logs;
    private final List<Watcher> open = new CopyOnWriteArrayList<>();
    private final ThreadPoolExecutor senders;
    private final ScheduledExecutorService beat;
    private final JournalReader reader;

    EventApi(Journal journal, Callers callers, LiveLogs logs) {
        this.journal = journal;
        this.callers = callers;
        this.logs = logs;
        var count = new AtomicInteger();
        this.senders = new ThreadPoolExecutor(
                0,
                MOST_WATCHERS,
                10,
                TimeUnit.SECONDS,
                new SynchronousQueue<>(),
                task -> daemon(task, "events-" + count.incrementAndGet()));
        this.beat = Executors.newSingleThreadScheduledExecutor(task -> daemon(task, "events-beat"));
        this.reader = new JournalReader("events", journal, journal::complete, events -> {
                    open.forEach(watcher -> watcher.offer(events));
                    return events.get(events.size() - 1).position();
                })
                .start();
        beat.scheduleWithFixedDelay(this::beatAll, 15, 15, TimeUnit.SECONDS);
    }

    /** A write to a line that is dead finds that out; one that throws keeps the others from none of theirs. */
    private void beatAll() {
        for (Watcher watcher : open) {
            try {
                watcher.beat();
            } catch (Throwable e) {
                LOG.debug("a line is gone", e);
                open.remove(watcher);
            }
        }
    }

    private static Thread daemon(Runnable task, String name) {
        var thread = new Thread(task, name);
        thread.setDaemon(true);
        return thread;
    }

    /**
     * Live changes, and beside them the logs that are named: {@code log.lines}, {@code log.try} and {@code log.end}.
     *
     * @param after the last event that is known, for whoever cannot send the header
     * @param log runs, each with the byte to go on from, such as {@code 1204@8192}
     */
    @GetMapping(path = "/api/v1/events", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter watch(
            @AuthenticationPrincipal Caller caller,
            @RequestHeader(name = "Last-Event-ID", required = false) Long lastId,
            @RequestParam(required = false) Long after,
            @RequestParam(defaultValue = "") List<String> log,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        if (log.size() > MOST_LOGS) {
            throw new InvalidException("log", log.size() + " logs: up to " + MOST_LOGS + " would be right");
        }
        makeRoom(caller);
        var watcher = new Watcher(caller, callers, senders, open::remove);
        try {
            for (String each : log) {
                watcher.owns(logs.follow(caller, each, watcher::offer));
            }
            // nothing can be refused from here on
            SseEmitter answer = watcher.on(LiveLine.open(request, response));
            open.add(watcher);
            watcher.open(journal, Optional.ofNullable(lastId == null ? after : lastId));
            return answer;
        } catch (IOException | RuntimeException e) {
            watcher.drop();
            throw e;
        }
    }

    /**
     * Keeps the limits. A stream that was left is only noticed when something is written to it, and a browser opens its
     * stream anew whenever it follows another log: so the oldest of a person's go, rather than the newest be refused.
     */
    private void makeRoom(Caller caller) {
        List<Watcher> own =
                open.stream().filter(watcher -> watcher.isOf(caller)).toList();
        own.stream().limit(Math.max(0, own.size() - MOST_EACH + 1)).forEach(Watcher::close);
        if (open.size() >= MOST_WATCHERS) {
            beatAll();
            throw Refusal.tooMany("already " + MOST_WATCHERS + " watch; try again in a moment");
        }
    }

    @PreDestroy
    void close() {
        beat.shutdownNow();
        reader.close();
        open.forEach(Watcher::close);
        senders.shutdown();
    }
}
