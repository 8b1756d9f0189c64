package org.gantrel.service.run;

import jakarta.annotation.PreDestroy;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.Semaphore;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Callers;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;

/** The log of a run: whole, or as it grows. */
@RestController
@RequestMapping("/api/v1/runs/{number}/log")
class RunLogApi {

    private static final Logger LOG = LoggerFactory.getLogger(RunLogApi.class);
    private static final int PIECE = 64 * 1024;
    private static final int MOST_FOLLOWERS = 100;
    private static final int MOST_EACH = 20;
    private static final int MOST_DOWNLOADS = 12;
    private static final long LOOK_EVERY_MILLIS = 200;
    private static final long BEAT_NANOS = TimeUnit.SECONDS.toNanos(15);
    private static final long JUDGE_EVERY_NANOS = TimeUnit.SECONDS.toNanos(5);

    /** Somebody who watches a log grow. Each is sent to by a thread of its own, so that one who stalls stops no other. */
    private final class Follower {
        private final SseEmitter emitter = new SseEmitter(0L);
        private final AtomicBoolean busy = new AtomicBoolean();
        private final String name;
        private final long number;
        private long at;
        private int attempt;
        private long lastSent = System.nanoTime();
        private long lastJudged = System.nanoTime();

        private Follower(Caller caller, long number, long from) {
            this.name = caller.name();
            this.number = number;
            this.at = from;
            this.attempt = runs.find(number).map(Run::attempt).orElse(1);
        }

        private void lookSoon() {
            if (busy.compareAndSet(false, true)) {
                senders.execute(() -> {
                    try {
                        look();
                    } finally {
                        busy.set(false);
                    }
                });
            }
        }

        /** Sends what is new; ends with the run, or when they may see it no longer. */
        private void look() {
            try {
                if (System.nanoTime() - lastJudged > JUDGE_EVERY_NANOS) {
                    Caller caller = callers.callerNamed(name).orElseThrow(() -> Refusal.notSignedIn("gone"));
                    access.visible(caller, number);
                    lastJudged = System.nanoTime();
                }
                // the state is read before the log, so that nothing written before the end is left out
                Run run = runs.find(number).orElseThrow();
                RunLogs.Piece piece = logs.read(run, attempt, at, PIECE);
                while (piece.to() > at) {
                    at = piece.to();
                    send(SseEmitter.event()
                            .id(String.valueOf(at))
                            .name("lines")
                            .data(piece, MediaType.APPLICATION_JSON));
                    piece = logs.read(run, attempt, at, PIECE);
                }
                if (run.attempt() != attempt && run.state() != RunState.WAITING) {
                    attempt = run.attempt();
                    at = 0;
                    send(SseEmitter.event().name("try").data(List.of(attempt), MediaType.APPLICATION_JSON));
                } else if (run.state().isEnded()) {
                    send(SseEmitter.event().name("end").data(List.of(run.state().word()), MediaType.APPLICATION_JSON));
                    followers.remove(this);
                    emitter.complete();
                } else if (System.nanoTime() - lastSent > BEAT_NANOS) {
                    send(SseEmitter.event().comment("still here"));
                }
            } catch (Throwable e) {
                followers.remove(this);
                emitter.completeWithError(e);
            }
        }

        private void send(SseEmitter.SseEventBuilder event) throws IOException {
            emitter.send(event);
            lastSent = System.nanoTime();
        }
    }

    private final RunAccess access;
    private final Callers callers;
    private final Runs runs;
    private final RunLogs logs;
    private final List<Follower> followers = new CopyOnWriteArrayList<>();
    private final ScheduledExecutorService looker = Threads.timer("log-looks");
    private final ExecutorService senders = Threads.pool("log-followers", MOST_FOLLOWERS);
    private final Semaphore downloads = new Semaphore(MOST_DOWNLOADS);

    RunLogApi(RunAccess access, Callers callers, Runs runs, RunLogs logs) {
        this.access = access;
        this.callers = callers;
        this.runs = runs;
        this.logs = logs;
        looker.scheduleWithFixedDelay(this::look, LOOK_EVERY_MILLIS, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
    }

    /** The log from a byte on, of the latest try or of another. */
    @GetMapping(produces = MediaType.TEXT_PLAIN_VALUE)
    void whole(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(defaultValue = "0") long from,
            @RequestParam(defaultValue = "false") boolean download,
            @RequestParam(name = "try", required = false) Integer attempt,
            HttpServletResponse response)
            throws IOException {
        Run run = access.visible(caller, number);
        int wanted = attempt == null ? (run.again().isPresent() ? run.attempt() - 1 : run.attempt()) : attempt;
        if (wanted < 1 || wanted > run.attempt()) {
            throw Refusal.notFound(
                    "run " + number + " has no try " + wanted + "; it has " + Words.count(run.attempt(), "attempt"));
        }
        if (!downloads.tryAcquire()) {
            throw Refusal.tooMany("already " + MOST_DOWNLOADS + " logs are read whole; try again later");
        }
        // written by the thread of the call, which takes as long as the reader does, and no time limit breaks off
        try {
            response.setContentType(new MediaType("text", "plain", StandardCharsets.UTF_8).toString());
            if (download) {
                response.setHeader(
                        HttpHeaders.CONTENT_DISPOSITION,
                        "attachment; filename=\"" + run.jobName() + "-" + number + ".log\"");
            }
            write(run, wanted, from, response.getOutputStream());
        } finally {
            downloads.release();
        }
    }

    /** The log as server-sent events: {@code lines} with each new piece, {@code end} when the run has ended. */
    @GetMapping(path = "/events", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
    SseEmitter follow(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(defaultValue = "0") long from,
            @RequestHeader(name = "Last-Event-ID", required = false) Long lastId) {
        access.visible(caller, number);
        if (followers.size() >= MOST_FOLLOWERS) {
            throw Refusal.tooMany("already " + MOST_FOLLOWERS + " follow a log; try again later");
        }
        if (followers.stream().filter(each -> each.name.equals(caller.name())).count() >= MOST_EACH) {
            throw Refusal.tooMany("you follow " + MOST_EACH + " logs already; close some of them");
        }
        var follower = new Follower(caller, number, lastId == null ? from : lastId);
        Runnable leave = () -> followers.remove(follower);
        follower.emitter.onCompletion(leave);
        follower.emitter.onTimeout(leave);
        follower.emitter.onError(e -> leave.run());
        followers.add(follower);
        return follower.emitter;
    }

    @PreDestroy
    void close() {
        looker.shutdownNow();
        senders.shutdown();
        followers.forEach(follower -> follower.emitter.complete());
    }

    private void look() {
        try {
            followers.forEach(Follower::lookSoon);
        } catch (Throwable e) {
            LOG.warn("a look at the logs failed", e);
        }
    }

    private void write(Run run, int attempt, long from, OutputStream out) throws IOException {
        long at = from;
        RunLogs.Piece piece = logs.read(run, attempt, at, PIECE);
        while (piece.to() > at) {
            out.write(piece.text().getBytes(StandardCharsets.UTF_8));
            at = piece.to();
            piece = logs.read(run, attempt, at, PIECE);
        }
    }
}
