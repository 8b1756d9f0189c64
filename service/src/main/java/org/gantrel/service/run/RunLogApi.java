package org.gantrel.service.run;

import jakarta.annotation.PreDestroy;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.http.HttpHeaders;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import org.springframework.web.servlet.mvc.method.annotation.StreamingResponseBody;

/** The log of a run: whole, or as it grows. */
@RestController
@RequestMapping("/api/v1/runs/{number}/log")
class RunLogApi {

    private static final Logger LOG = LoggerFactory.getLogger(RunLogApi.class);
    private static final int PIECE = 64 * 1024;
    private static final int MOST_FOLLOWERS = 100;
    private static final long LOOK_EVERY_MILLIS = 200;

    /** Somebody who watches a log grow. */
    private final class Follower {
        private final SseEmitter emitter = new SseEmitter(0L);
        private final long number;
        private long at;

        private Follower(long number, long from) {
            this.number = number;
            this.at = from;
        }

        /** Sends what is new; ends with the run. */
        private void look() {
            try {
                // the state is read before the log, so that nothing written before the end is left out
                Run run = runs.find(number).orElseThrow();
                RunLogs.Piece piece = logs.read(run, at, PIECE);
                while (piece.to() > at) {
                    at = piece.to();
                    emitter.send(SseEmitter.event()
                            .id(String.valueOf(at))
                            .name("lines")
                            .data(piece, MediaType.APPLICATION_JSON));
                    piece = logs.read(run, at, PIECE);
                }
                if (run.state().isEnded()) {
                    emitter.send(SseEmitter.event()
                            .name("end")
                            .data(List.of(run.state().word()), MediaType.APPLICATION_JSON));
                    followers.remove(this);
                    emitter.complete();
                }
            } catch (IOException | RuntimeException e) {
                followers.remove(this);
                emitter.completeWithError(e);
            }
        }
    }

    private final RunAccess access;
    private final Runs runs;
    private final RunLogs logs;
    private final List<Follower> followers = new CopyOnWriteArrayList<>();
    private final ScheduledExecutorService looker = Executors.newSingleThreadScheduledExecutor(task -> {
        var thread = new Thread(task, "log-followers");
        thread.setDaemon(true);
        return thread;
    });

    RunLogApi(RunAccess access, Runs runs, RunLogs logs) {
        this.access = access;
        this.runs = runs;
        this.logs = logs;
        looker.scheduleWithFixedDelay(this::look, LOOK_EVERY_MILLIS, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
    }

    /** The log from a byte on. */
    @GetMapping(produces = MediaType.TEXT_PLAIN_VALUE)
    ResponseEntity<StreamingResponseBody> whole(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(defaultValue = "0") long from,
            @RequestParam(defaultValue = "false") boolean download) {
        Run run = access.visible(caller, number);
        var answer = ResponseEntity.ok().contentType(new MediaType("text", "plain", StandardCharsets.UTF_8));
        if (download) {
            answer.header(
                    HttpHeaders.CONTENT_DISPOSITION,
                    "attachment; filename=\"" + run.jobName() + "-" + number + ".log\"");
        }
        return answer.body(out -> write(run, from, out));
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
        var follower = new Follower(number, lastId == null ? from : lastId);
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
        followers.forEach(follower -> follower.emitter.complete());
    }

    private void look() {
        try {
            followers.forEach(Follower::look);
        } catch (RuntimeException e) {
            LOG.warn("a look at the logs failed", e);
        }
    }

    private void write(Run run, long from, OutputStream out) throws IOException {
        long at = from;
        RunLogs.Piece piece = logs.read(run, at, PIECE);
        while (piece.to() > at) {
            out.write(piece.text().getBytes(StandardCharsets.UTF_8));
            at = piece.to();
            piece = logs.read(run, at, PIECE);
        }
    }
}
