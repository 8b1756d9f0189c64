package org.gantrel.service.journal;

import jakarta.annotation.PreDestroy;
import java.util.List;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.SynchronousQueue;
import java.util.concurrent.ThreadPoolExecutor;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Callers;
import org.springframework.http.MediaType;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * Live changes as server-sent events (WHATWG HTML, 9.2), read from the journal: they go on where a reader left off, after
 * a restart too. Each watcher has a thread while it is sent something, so that one who does not read stops nobody else.
 */
@RestController
class EventApi {

    private static final int MOST_WATCHERS = 200;
    private static final int MOST_EACH = 20;

    private final Journal journal;
    private final Callers callers;
    private final List<Watcher> open = new CopyOnWriteArrayList<>();
    private final ThreadPoolExecutor senders;
    private final ScheduledExecutorService beat;
    private final JournalReader reader;

    EventApi(Journal journal, Callers callers) {
        this.journal = journal;
        this.callers = callers;
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
        beat.scheduleWithFixedDelay(() -> open.forEach(Watcher::beat), 15, 15, TimeUnit.SECONDS);
    }

    private static Thread daemon(Runnable task, String name) {
        var thread = new Thread(task, name);
        thread.setDaemon(true);
        return thread;
    }

    @GetMapping(path = "/api/v1/events", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter watch(
            @AuthenticationPrincipal Caller caller,
            @RequestHeader(name = "Last-Event-ID", required = false) Long lastId) {
        if (open.size() >= MOST_WATCHERS) {
            throw Refusal.tooMany("already " + MOST_WATCHERS + " watch; try again later");
        }
        if (open.stream().filter(watcher -> watcher.isOf(caller)).count() >= MOST_EACH) {
            throw Refusal.tooMany("you watch " + MOST_EACH + " times already; close some of them");
        }
        var watcher = new Watcher(caller, callers, senders, open::remove);
        open.add(watcher);
        watcher.open(journal, Optional.ofNullable(lastId));
        return watcher.emitter();
    }

    @PreDestroy
    void close() {
        beat.shutdownNow();
        reader.close();
        open.forEach(Watcher::close);
        senders.shutdown();
    }
}
