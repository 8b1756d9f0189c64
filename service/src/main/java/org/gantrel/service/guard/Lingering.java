package org.gantrel.service.guard;

import jakarta.servlet.AsyncContext;
import jakarta.servlet.Filter;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletRequest;
import jakarta.servlet.ServletResponse;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Duration;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;

/**
 * Has whoever still sends hear the answer of a call that was answered before its body was there: what comes within a
 * moment is thrown away, without a thread that waits for it, and then the connection is closed. It comes before all else,
 * so that it holds for whatever turned the call down.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE)
class Lingering implements Filter {

    private static final Duration PATIENCE = Duration.ofSeconds(5);
    private static final long MOST = 2 << 20;

    @Override
    public void doFilter(ServletRequest request, ServletResponse response, FilterChain chain)
            throws IOException, ServletException {
        var call = (HttpServletRequest) request;
        var answer = (HttpServletResponse) response;
        if (!Arrival.hasBody(call)) {
            chain.doFilter(request, response);
            return;
        }
        Arriving.hangUpAfter(answer);
        chain.doFilter(request, response);
        if (!call.isAsyncStarted() && !call.getInputStream().isFinished()) {
            answer.flushBuffer();
            new ThrownAway(call, answer).begin(PATIENCE);
        }
    }

    private static final class ThrownAway extends Arriving {
        private long left = MOST;

        private ThrownAway(HttpServletRequest request, HttpServletResponse response) {
            super(request, response);
        }

        @Override
        boolean came(byte[] bytes, int length) {
            left -= length;
            return left > 0;
        }

        @Override
        void isThere(AsyncContext call) {
            call.complete();
        }

        @Override
        void isLate() {
            // it has been answered
        }

        @Override
        void isOver() {
            // nothing was taken
        }
    }
}
