package org.gantrel.service.guard;

import jakarta.servlet.AsyncContext;
import jakarta.servlet.AsyncEvent;
import jakarta.servlet.AsyncListener;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Duration;
import org.springframework.http.HttpHeaders;

/**
 * Reads the body of a call as it comes, without a thread that waits for it. What is done with it, and what follows when it
 * is there or does not come, is said by those that have it read. The connection of a call whose body is not read to its
 * end is closed.
 */
abstract class Arriving implements ReadListener, AsyncListener {

    private static final int AT_A_TIME = 8_192;

    private final HttpServletRequest request;
    private final HttpServletResponse response;
    private AsyncContext context;
    private ServletInputStream from;
    private boolean ended;

    Arriving(HttpServletRequest request, HttpServletResponse response) {
        this.request = request;
        this.response = response;
    }

    /**
     * Has the connection closed after the answer (RFC 9112, 9.6), unless the body has been read by then: a thread would
     * wait for the rest of that otherwise.
     */
    static void hangUpAfter(HttpServletResponse response) {
        response.setHeader(HttpHeaders.CONNECTION, "close");
    }

    /** Begins to read; the call goes on when it is over. */
    final void begin(Duration patience) throws IOException {
        from = request.getInputStream();
        context = request.startAsync();
        context.setTimeout(patience.toMillis());
        context.addListener(this);
        from.setReadListener(this);
    }

    /**
     * Some of it.
     *
     * @return whether more of it is wanted
     */
    abstract boolean came(byte[] bytes, int length) throws IOException;

    /** It is there as far as it is wanted. */
    abstract void isThere(AsyncContext call) throws IOException;

    /** It has not come in time; the call is over after that. */
    abstract void isLate() throws IOException;

    /** What was taken for it is not needed any more. May be told more than once. */
    abstract void isOver() throws IOException;

    @Override
    public final void onDataAvailable() throws IOException {
        byte[] bytes = new byte[AT_A_TIME];
        while (!ended && from.isReady()) {
            int length = from.read(bytes);
            if (length < 0) {
                return;
            }
            if (!came(bytes, length)) {
                end();
            }
        }
    }

    @Override
    public final void onAllDataRead() throws IOException {
        response.setHeader(HttpHeaders.CONNECTION, null);
        end();
    }

    private void end() throws IOException {
        if (!ended) {
            ended = true;
            isThere(context);
        }
    }

    /** Whoever sends it has gone, or says nothing any more: the server ends the call. */
    @Override
    public final void onError(Throwable thrown) {
        ended = true;
    }

    @Override
    public final void onTimeout(AsyncEvent event) throws IOException {
        if (!ended) {
            ended = true;
            isLate();
            context.complete();
        }
    }

    @Override
    public final void onError(AsyncEvent event) throws IOException {
        isOver();
    }

    @Override
    public final void onComplete(AsyncEvent event) throws IOException {
        isOver();
    }

    @Override
    public final void onStartAsync(AsyncEvent event) throws IOException {
        // what answers the call answers later, and has read the body by now
        isOver();
    }
}
