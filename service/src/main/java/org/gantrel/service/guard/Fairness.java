package org.gantrel.service.guard;

import jakarta.servlet.DispatcherType;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.time.Duration;
import java.util.Arrays;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Bounds what one caller takes of the service: how much a body holds and how slowly it may come, and how many calls go
 * at once, so that nobody's calls take all threads from the others. It comes after the caller is known; callers that
 * are not signed in are told apart by their address.
 */
public final class Fairness extends OncePerRequestFilter {

    /** What a sign-in takes, generously. */
    static final long ANONYMOUS_BYTES = 4_096;
    /** A roster's rows and an import of many files are the largest bodies. */
    static final long MOST_BYTES = 64L << 20;

    /** Other systems call triggers, and say who they are in their own way. */
    public static final String CALLS = "/api/v1/calls/";

    static final long CALL_BYTES = 64_000;

    static final Duration ANONYMOUS_PATIENCE = Duration.ofSeconds(5);
    static final Duration PATIENCE = Duration.ofMinutes(2);

    /** A third of the threads that answer calls; as many as half may wait for a moment. */
    public static final int AT_ONCE = 32;

    static final int ANONYMOUS_AT_ONCE = 16;

    /** Files that are built or sent whole, and forecasts, may take long, and whoever fetches them may be slow. */
    static final int LONG_AT_ONCE = 4;

    private static final Map<String, String> LONG = Map.of(
            "/csv", "files", "/ics", "files", "/outputs/file", "files", "/metrics", "files", "/forecast", "forecasts");

    /** These ask hosts that may be silent. */
    private static final Map<String, String> TRIALS =
            Map.of("/rehearsal", "rehearsals", "/test", "trials", "/trial", "trials");

    private static final int WAITING = 16;
    private static final Duration TURN = Duration.ofSeconds(2);

    /** One caller's turns; forgotten when none is taken. */
    private static final class Turns {
        private final Semaphore free;
        private int held;

        private Turns(int atOnce) {
            this.free = new Semaphore(atOnce, true);
        }
    }

    private final Map<String, Turns> callers = new ConcurrentHashMap<>();
    private final LargeBodies large = new LargeBodies();

    @Override
    protected boolean shouldNotFilter(HttpServletRequest request) {
        return request.getRequestURI().startsWith("/assets/") && !Arrival.hasBody(request);
    }

    @Override
    protected boolean shouldNotFilterAsyncDispatch() {
        return false;
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        Authentication known = SecurityContextHolder.getContext().getAuthentication();
        String caller = known == null
                ? "at " + address(request.getRemoteAddr())
                : "as " + ((Caller) known.getPrincipal()).name();
        boolean begins = request.getDispatcherType() == DispatcherType.REQUEST;
        try (Body body = Arrival.take(request)) {
            if (begins && Arrival.hasBody(request)) {
                bounds(request, caller, known != null).of(request);
                chain.doFilter(request, response);
            } else if (begins || body != null) {
                int atOnce = known == null ? ANONYMOUS_AT_ONCE : AT_ONCE;
                inTurn(caller, atOnce, "calls", () -> answer(request, response, chain, caller, body));
            } else {
                // it has had its turn, and what it began to wait for then is there
                chain.doFilter(request, response);
            }
        } catch (Refusal refusal) {
            ProblemWriter.write(request, response, refusal);
        }
    }

    private static Arrival.Bounds bounds(HttpServletRequest request, String caller, boolean signedIn) {
        long most = isCall(request) ? CALL_BYTES : signedIn ? MOST_BYTES : ANONYMOUS_BYTES;
        if (request.getContentLengthLong() > most) {
            throw Refusal.tooLarge(most);
        }
        return new Arrival.Bounds(caller, most, signedIn ? PATIENCE : ANONYMOUS_PATIENCE);
    }

    private static boolean isCall(HttpServletRequest request) {
        return request.getRequestURI().startsWith(CALLS);
    }

    private void answer(
            HttpServletRequest request, HttpServletResponse response, FilterChain chain, String caller, Body body)
            throws ServletException, IOException {
        HttpServletRequest whole = body == null ? request : new ArrivedBody(request, body);
        try (LargeBodies.Turn turn = large.turn(caller)) {
            if (body != null && body.isLarge() && !isCall(request)) {
                turn.take(body.size());
            }
            Map<String, String> kinds = request.getMethod().equals("POST") ? TRIALS : LONG;
            Optional<String> what = kinds.entrySet().stream()
                    .filter(each -> request.getRequestURI().endsWith(each.getKey()))
                    .map(Map.Entry::getValue)
                    .findFirst();
            if (what.isPresent()) {
                inTurn(what.get() + " " + caller, LONG_AT_ONCE, what.get(), () -> chain.doFilter(whole, response));
            } else {
                chain.doFilter(whole, response);
            }
        }
    }

    private interface Work {
        void run() throws ServletException, IOException;
    }

    private void inTurn(String caller, int atOnce, String what, Work work) throws ServletException, IOException {
        Turns turns = take(caller, atOnce, what);
        try {
            work.run();
        } finally {
            turns.free.release();
            leave(caller);
        }
    }

    private Turns take(String caller, int atOnce, String what) {
        Turns turns = callers.compute(caller, (key, known) -> {
            Turns each = known == null ? new Turns(atOnce) : known;
            each.held++;
            return each;
        });
        boolean taken = false;
        try {
            taken = turns.held <= atOnce + WAITING && turns.free.tryAcquire(TURN.toMillis(), TimeUnit.MILLISECONDS);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
        if (!taken) {
            leave(caller);
            throw Refusal.tooMany(
                    "you have " + atOnce + " " + what + " under way already; wait for some of them to end");
        }
        return turns;
    }

    private void leave(String caller) {
        callers.computeIfPresent(caller, (key, known) -> --known.held == 0 ? null : known);
    }

    /** Whoever has one address of an IPv6 network has all that share its first 64 bits. */
    public static String address(String address) {
        String[] parts = address.split(":", -1);
        return parts.length < 5
                ? address
                : String.join(":", Arrays.asList(parts).subList(0, 4));
    }
}
