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
import org.gantrel.service.live.LiveLine;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Callers;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.http.MediaType;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** Somebody who watches the journal: what is still to be sent, and where it goes. */
final class Watcher {

    private static final Logger LOG = LoggerFactory.getLogger(Watcher.class);
    private static final int MOST_WAITING = 2_000;
    private static final int CATCH_UP = 1_000;
    /** So many things wait for whoever reads slowly before a log waits for them. */
    private static final int BEHIND = 16;

    /** One thing to send. */
    private interface Message {
        void send(LiveLine to, Caller caller) throws IOException;
    }

    private static final Message END = (to, caller) -> {};

    private final String name;
    private final Callers callers;
    private final Executor senders;
    private final Consumer<Watcher> left;
    private final Deque<Message> waiting = new ArrayDeque<>();
    private final List<Closeable> owned = new CopyOnWriteArrayList<>();
    private LiveLine line;
    /** One thread at a time writes; until the line is ready, none does. */
    private boolean sending = true;

    private boolean closed;
    private long position;

    Watcher(Caller caller, Callers callers, Executor senders, Consumer<Watcher> left) {
        this.name = caller.name();
        this.callers = callers;
        this.senders = senders;
        this.left = left;
    }

    /** Writes to a line from when it is ready on. */
    SseEmitter on(LiveLine ready) {
        line = ready;
        return line.kept(this::send, this::drop);
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
        if (isClosed()) {
            closeOwned();
        }
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
            send();
        }
    }

    private void send() {
        try {
            senders.execute(this::work);
        } catch (RejectedExecutionException e) {
            drop();
            line.end();
        }
    }

    private void work() {
        try {
            Message next = next();
            // rights are those of now, not of when the watching began
            Optional<Caller> caller = isOne(next) ? callers.callerNamed(name) : Optional.empty();
            while (isOne(next) && caller.isPresent()) {
                next.send(line, caller.get());
                next = next();
            }
            if (next == null) {
                return;
            }
        } catch (IOException e) {
            LOG.debug("whoever watched is gone", e);
        } catch (Throwable e) {
            LOG.warn("what is live could not be told", e);
        }
        drop();
        line.end();
    }

    private static boolean isOne(Message message) {
        return message != null && message != END;
    }

    /** The next to send; nothing where nothing waits, and then another thread may be next. The end stays with who gets it. */
    private synchronized Message next() {
        Message next = closed ? END : waiting.poll();
        sending = next != null;
        return next;
    }

    private synchronized boolean isClosed() {
        return closed;
    }

    private static void send(LiveLine to, Caller caller, Event event) throws IOException {
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

    /** Forgets what it has; its line, if any, is not its own to end. */
    void drop() {
        synchronized (this) {
            closed = true;
            waiting.clear();
        }
        left.accept(this);
        closeOwned();
    }

    /** Never waits: whoever is being written to is let go by the thread that writes. */
    void close() {
        drop();
        synchronized (this) {
            if (sending) {
                return;
            }
            sending = true;
        }
        send();
    }
}
