package org.gantrel.service.event;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import org.gantrel.core.access.Deed;
import org.gantrel.service.team.Caller;
import org.gantrel.service.web.Refusal;
import org.springframework.http.MediaType;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Live changes as server-sent events (WHATWG HTML, 9.2). */
@RestController
class EventApi {

    private static final int MOST_WATCHERS = 200;
    private static final long NO_TIMEOUT = 0L;

    private final Events events;
    private final List<SseEmitter> open = new CopyOnWriteArrayList<>();
    private final ScheduledExecutorService sender = Executors.newSingleThreadScheduledExecutor(task -> {
        var thread = new Thread(task, "events");
        thread.setDaemon(true);
        return thread;
    });

    EventApi(Events events) {
        this.events = events;
        sender.scheduleWithFixedDelay(this::beat, 15, 15, TimeUnit.SECONDS);
    }

    @GetMapping(path = "/api/v1/events", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter watch(
            @AuthenticationPrincipal Caller caller,
            @RequestHeader(name = "Last-Event-ID", required = false) Long lastId) {
        if (events.watching() >= MOST_WATCHERS) {
            throw Refusal.tooMany("already " + MOST_WATCHERS + " watch; try again later");
        }
        var emitter = new SseEmitter(NO_TIMEOUT);
        Consumer<Event> watcher = event -> sender.execute(() -> send(emitter, caller, event));
        Runnable close = () -> {
            events.unwatch(watcher);
            open.remove(emitter);
        };
        emitter.onCompletion(close);
        emitter.onTimeout(close);
        emitter.onError(e -> close.run());
        open.add(emitter);
        sender.execute(() -> {
            comment(emitter, "watching");
            if (lastId != null) {
                events.since(lastId).forEach(event -> send(emitter, caller, event));
            }
            events.watch(watcher);
        });
        return emitter;
    }

    @PreDestroy
    void close() {
        sender.shutdownNow();
        open.forEach(SseEmitter::complete);
    }

    private void beat() {
        open.forEach(emitter -> comment(emitter, "still here"));
    }

    private static void comment(SseEmitter emitter, String text) {
        try {
            emitter.send(SseEmitter.event().comment(text));
        } catch (IOException | IllegalStateException e) {
            emitter.completeWithError(e);
        }
    }

    private static void send(SseEmitter emitter, Caller caller, Event event) {
        if (!caller.may(Deed.SEE_RUNS, event.team())) {
            return;
        }
        try {
            emitter.send(SseEmitter.event()
                    .id(String.valueOf(event.id()))
                    .name(event.type())
                    .data(event.about(), MediaType.APPLICATION_JSON));
        } catch (IOException | IllegalStateException e) {
            emitter.completeWithError(e);
        }
    }
}
