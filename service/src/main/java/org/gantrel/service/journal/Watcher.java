package org.gantrel.service.journal;

import java.io.Closeable;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayDeque;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executor;
import java.util.concurrent.RejectedExecutionException;
import java.util.function.Consumer;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Callers;
import org.springframework.http.MediaType;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Somebody who watches the journal: what is still to be sent, and where it goes. */
final class Watcher {

    private static final int MOST_WAITING = 1_000;
    private static final int CATCH_UP = 1_000;
    /** So many things wait for whoever reads slowly before a log waits for them. */
    private static final int BEHIND = 16;

    /** One thing to send. */
    private interface Message {
        void send(SseEmitter to, Caller caller) throws Exception;
    }

    private final SseEmitter emitter = new SseEmitter(0L);
    private final String name;
    private final Callers callers;
    private final Executor senders;
    private final Consumer<Watcher> left;
    private final Deque<Message> waiting = new ArrayDeque<>();
    private final List<Closeable> owned = new CopyOnWriteArrayList<>();
    private boolean sending;
    private boolean closed;
    private long position;

    Watcher(Caller caller, Callers callers, Executor senders, Consumer<Watcher> left) {
        this.name = caller.name();
        this.callers = callers;
        this.senders = senders;
        this.left = left;
        Runnable gone = this::gone;
        emitter.onCompletion(gone);
        emitter.onTimeout(gone);
        emitter.onError(e -> gone());
    }

    SseEmitter emitter() {
        return emitter;
    }

    boolean isOf(Caller caller) {
        return name.equals(caller.name());
    }

    /** Begins where the reader left off, as far as the journal is not too far ahead by now. */
    void open(Journal journal, Optional<Long> lastId) {
        comment("watching");
        synchronized (this) {
            position = Math.max(
                    position, lastId.filter(id -> id <= journal.complete()).orElse(0L));
        }
        lastId.ifPresent(id -> offer(journal.after(Math.max(id, journal.complete() - CATCH_UP), CATCH_UP)));
    }

    /** Takes events to send; each at most once, in order. */
    synchronized void offer(List<Event> events) {
        for (Event event : events) {
            if (event.position() > position) {
                position = event.position();
                put((to, caller) -> send(to, caller, event));
            }
        }
    }

    /** Takes something that is not of the journal; false where the reader is behind. */
    boolean offer(String topic, Object data) {
        synchronized (this) {
            if (waiting.size() >= BEHIND) {
                return closed;
            }
        }
        put((to, caller) -> to.send(SseEmitter.event().name(topic).data(data, MediaType.APPLICATION_JSON)));
        return true;
    }

    /** What ends with it. */
    void owns(Closeable following) {
        owned.add(following);
        synchronized (this) {
            if (!closed) {
                return;
            }
        }
        closeOwned();
    }

    private void closeOwned() {
        for (Closeable each : owned) {
            try {
                each.close();
            } catch (IOException e) {
                throw new UncheckedIOException(e);
            }
        }
    }

    void beat() {
        comment("still here");
    }

    private void comment(String text) {
        put((to, caller) -> to.send(SseEmitter.event().comment(text)));
    }

    private synchronized void put(Message message) {
        if (closed) {
            return;
        }
        if (waiting.size() >= MOST_WAITING) {
            // who reads so slowly is better told to come again, with the number of the last event that came through
            close();
            return;
        }
        waiting.add(message);
        if (!sending) {
            sending = true;
            try {
                senders.execute(this::work);
            } catch (RejectedExecutionException e) {
                close();
            }
        }
    }

    private void work() {
        Optional<Caller> caller = Optional.empty();
        Message next = next();
        try {
            if (next != null) {
                // rights are those of now, not of when the watching began
                caller = callers.callerNamed(name);
            }
            while (next != null && caller.isPresent()) {
                next.send(emitter, caller.get());
                next = next();
            }
            if (next != null) {
                close();
            }
        } catch (Throwable e) {
            synchronized (this) {
                closed = true;
                sending = false;
            }
            left.accept(this);
            closeOwned();
            emitter.completeWithError(e);
        }
    }

    private synchronized Message next() {
        Message next = closed ? null : waiting.poll();
        sending = next != null;
        return next;
    }

    private static void send(SseEmitter to, Caller caller, Event event) throws Exception {
        if (!EventRights.sees(caller, event)) {
            return;
        }
        Map<String, Object> data = new HashMap<>(event.about());
        data.put("type", event.type());
        data.put("at", event.at());
        to.send(SseEmitter.event()
                .id(String.valueOf(event.position()))
                .name(topic(event.type()))
                .data(data, MediaType.APPLICATION_JSON));
    }

    /** What changed: {@code run.changed} for all that can happen to a run. */
    private static String topic(String type) {
        String[] words = type.split("\\.");
        return words[1] + ".changed";
    }

    private void gone() {
        synchronized (this) {
            closed = true;
        }
        left.accept(this);
        closeOwned();
    }

    void close() {
        gone();
        emitter.complete();
    }
}
