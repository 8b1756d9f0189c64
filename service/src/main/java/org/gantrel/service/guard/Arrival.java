package org.gantrel.service.guard;

import jakarta.servlet.AsyncContext;
import jakarta.servlet.DispatcherType;
import jakarta.servlet.Filter;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletRequest;
import jakarta.servlet.ServletResponse;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Duration;
import java.util.Map;
import java.util.concurrent.ConcurrentHashMap;
import org.gantrel.service.refusal.Refusal;

/**
 * Has the body of a call arrive before a thread is given to it, so that whoever sends slowly takes no thread from the
 * others. It comes last of what looks at calls: only the body of one that may be answered is waited for. When it is there,
 * the call goes through all of that once more ({@link DispatcherType#ASYNC}), and {@link Fairness} gives it its turn.
 */
public final class Arrival implements Filter {

    private static final String BODY = Body.class.getName();

    /** How much one caller's bodies take of the disk at a time. */
    private static final long MOST_ON_DISK = 4 * Fairness.MOST_BYTES;

    private final Map<String, Long> onDisk = new ConcurrentHashMap<>();

    /**
     * How a call's body may come.
     *
     * @param caller whose it is
     * @param most how many bytes it may have
     * @param patience how long it may take
     */
    record Bounds(String caller, long most, Duration patience) {
        private static final String NAME = Bounds.class.getName();

        void of(ServletRequest request) {
            request.setAttribute(NAME, this);
        }
    }

    /** Whether there is more of a call than its head (RFC 9112, 6.3). */
    static boolean hasBody(HttpServletRequest request) {
        return request.getContentLengthLong() > 0
                || (request.getContentLengthLong() < 0 && request.getHeader("Transfer-Encoding") != null);
    }

    /** The body of a call that has arrived, once. */
    static Body take(ServletRequest request) {
        var body = (Body) request.getAttribute(BODY);
        request.removeAttribute(BODY);
        return body;
    }

    @Override
    public void doFilter(ServletRequest request, ServletResponse response, FilterChain chain)
            throws IOException, ServletException {
        var bounds = (Bounds) request.getAttribute(Bounds.NAME);
        if (bounds == null || request.getDispatcherType() != DispatcherType.REQUEST) {
            chain.doFilter(request, response);
        } else {
            new Wanted((HttpServletRequest) request, (HttpServletResponse) response, bounds).begin(bounds.patience());
        }
    }

    /** A body that is read so that the call can be answered. */
    private final class Wanted extends Arriving {
        private final HttpServletRequest request;
        private final HttpServletResponse response;
        private final Bounds bounds;
        private final Body body = new Body();
        private long counted;
        private Refusal refusal;
        private long thrownAway;

        private Wanted(HttpServletRequest request, HttpServletResponse response, Bounds bounds) {
            super(request, response);
            this.request = request;
            this.response = response;
            this.bounds = bounds;
        }

        @Override
        boolean came(byte[] bytes, int length) throws IOException {
            if (refusal == null) {
                refusal = complaint(length);
            }
            if (refusal == null) {
                try {
                    body.add(bytes, length);
                    return true;
                } catch (IOException e) {
                    refusal = Refusal.noRoom(
                            "the service cannot write the body of this call to its disk: " + e.getMessage());
                }
            }
            // whoever still sends would not hear it
            isOver();
            thrownAway += length;
            return thrownAway <= bounds.most();
        }

        private Refusal complaint(int length) {
            if (body.size() + length > bounds.most()) {
                return Refusal.tooLarge(bounds.most());
            }
            long there = body.size() + length;
            if (there > LargeBodies.SMALL) {
                long all = onDisk.merge(bounds.caller(), there - counted, Long::sum);
                counted = there;
                if (all > MOST_ON_DISK) {
                    return Refusal.tooMany("your calls under way have " + (MOST_ON_DISK >> 20)
                            + " MB of bodies already; wait for some of them to end");
                }
            }
            return null;
        }

        @Override
        void isThere(AsyncContext call) throws IOException {
            if (refusal == null) {
                request.setAttribute(BODY, body);
                call.dispatch();
            } else {
                ProblemWriter.write(request, response, refusal);
                call.complete();
            }
        }

        @Override
        void isLate() throws IOException {
            ProblemWriter.write(request, response, refusal == null ? Refusal.tooSlow(bounds.patience()) : refusal);
        }

        @Override
        void isOver() throws IOException {
            long all = counted;
            counted = 0;
            onDisk.computeIfPresent(bounds.caller(), (key, many) -> many == all ? null : many - all);
            body.close();
        }
    }
}
