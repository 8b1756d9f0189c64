package org.gantrel.service.live;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.concurrent.atomic.AtomicBoolean;
import org.springframework.http.MediaType;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/**
 * The answer to one request as server-sent events (WHATWG HTML, 9.2), kept open. One thread at a time may write to it.
 *
 * <p>The server uses its own objects for the next request as soon as one has ended, so what goes wrong here would reach
 * somebody else's answer. Therefore the status and the headers are sent by the thread of the call, before another may
 * write; others begin once that thread has let go ({@link #ready}); and a line that was found dead while it was written to
 * is ended by the server alone.
 */
public final class LiveLine {

    static final String ATTRIBUTE = LiveLine.class.getName();

    private final SseEmitter emitter = new SseEmitter(0L);
    private final AtomicBoolean over = new AtomicBoolean();
    private Runnable begun = () -> {};
    private boolean ready;

    private LiveLine() {}

    /**
     * Answers with the status and the headers.
     *
     * @throws IOException where whoever asked is gone
     */
    public static LiveLine open(HttpServletRequest request, HttpServletResponse response) throws IOException {
        var line = new LiveLine();
        response.setContentType(MediaType.TEXT_EVENT_STREAM_VALUE);
        response.flushBuffer();
        request.setAttribute(ATTRIBUTE, line);
        return line;
    }

    /** What is done when it may be written to, and when it is gone for whatever reason; each by a thread of the server. */
    public SseEmitter kept(Runnable whenReady, Runnable whenGone) {
        begun = whenReady;
        Runnable gone = () -> {
            over.set(true);
            whenGone.run();
        };
        emitter.onCompletion(gone);
        emitter.onTimeout(gone);
        emitter.onError(e -> gone.run());
        return emitter;
    }

    /** The thread of the call lets go. */
    void begin() {
        synchronized (this) {
            ready = true;
        }
        begun.run();
    }

    /** Whether it may be written to. */
    public synchronized boolean ready() {
        return ready;
    }

    /** @throws IOException where it is gone; nothing else is to be done then */
    public void send(SseEmitter.SseEventBuilder event) throws IOException {
        if (over.get()) {
            throw new IOException("the line is gone");
        }
        try {
            emitter.send(event);
        } catch (IOException e) {
            over.set(true);
            throw e;
        }
    }

    /** Ends it, by the thread that writes; does nothing where it is gone. */
    public void end() {
        if (over.compareAndSet(false, true)) {
            emitter.complete();
        }
    }
}
