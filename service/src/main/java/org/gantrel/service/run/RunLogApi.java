package org.gantrel.service.run;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.concurrent.Semaphore;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Words;
import org.gantrel.service.live.LiveLine;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
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

    private static final int PIECE = 64 * 1024;
    private static final int MOST_DOWNLOADS = 12;
    private static final int MOST_LINES = 2_000;
    private static final int MOST_HITS = 10_000;

    private final RunAccess access;
    private final LogFollowers followers;
    private final LogPages pages;
    private final RunLogs logs;
    private final Semaphore downloads = new Semaphore(MOST_DOWNLOADS);
    private final Share reads = new Share("logs are read", 24, 6);
    private final Share searches = new Share("logs are searched", 8, 2);

    RunLogApi(RunAccess access, LogFollowers followers, LogPages pages, RunLogs logs) {
        this.access = access;
        this.followers = followers;
        this.pages = pages;
        this.logs = logs;
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
        int wanted = attemptOf(run, attempt);
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
            @RequestHeader(name = "Last-Event-ID", required = false) Long lastId,
            HttpServletRequest request,
            HttpServletResponse response)
            throws IOException {
        var sent = new Sent();
        Closeable following = followers.follow(caller, number, lastId == null ? from : lastId, sent);
        try {
            sent.line = LiveLine.open(request, response);
        } catch (IOException e) {
            following.close();
            throw e;
        }
        return sent.line.kept(() -> {}, () -> close(following));
    }

    /** Lines of the log by their numbers; below 0 counts from the end, so that the end can be shown first. */
    @GetMapping("/lines")
    LogPages.Lines lines(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(defaultValue = "0") long from,
            @RequestParam(defaultValue = "500") int count,
            @RequestParam(name = "try", required = false) Integer attempt) {
        Run run = access.visible(caller, number);
        between("count", count, MOST_LINES);
        // a log that is looked at for the first time is read whole
        return reads.within(caller, () -> pages.lines(run, attemptOf(run, attempt), from, count));
    }

    /** The numbers of the lines that hold a text, or look like errors; over all of the log. */
    @GetMapping("/find")
    LogPages.Hits find(
            @AuthenticationPrincipal Caller caller,
            @PathVariable long number,
            @RequestParam(defaultValue = "") String q,
            @RequestParam(defaultValue = "false") boolean errors,
            @RequestParam(defaultValue = "0") long from,
            @RequestParam(defaultValue = "1000") int limit,
            @RequestParam(name = "try", required = false) Integer attempt) {
        Run run = access.visible(caller, number);
        between("limit", limit, MOST_HITS);
        if (q.isEmpty() && !errors) {
            throw new InvalidException("q", "say what to look for, or errors=true for lines that look like errors");
        }
        if (q.length() > 200) {
            throw new InvalidException("q", q.length() + " characters: up to 200 would be right");
        }
        return searches.within(
                caller, () -> pages.find(run, attemptOf(run, attempt), q, errors, Math.max(0, from), limit));
    }

    private static void between(String field, int value, int most) {
        if (value < 1 || value > most) {
            throw new InvalidException(field, value + ": 1 to " + most + " would be right");
        }
    }

    /** The try that was asked for; of itself the latest that has begun. */
    private static int attemptOf(Run run, Integer attempt) {
        int wanted = attempt == null ? (run.again().isPresent() ? run.attempt() - 1 : run.attempt()) : attempt;
        if (wanted < 1 || wanted > run.attempt()) {
            throw Refusal.notFound("run " + run.number() + " has no try " + wanted + "; it has "
                    + Words.count(run.attempt(), "attempt"));
        }
        return wanted;
    }

    private static void close(Closeable following) {
        try {
            following.close();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** A stream that carries one log and nothing else. */
    private static final class Sent implements LogFollowers.Reader {

        private volatile LiveLine line;

        @Override
        public boolean ready() {
            return line != null && line.ready();
        }

        @Override
        public boolean lines(int attempt, RunLogs.Piece piece) throws IOException {
            line.send(SseEmitter.event()
                    .id(String.valueOf(piece.to()))
                    .name("lines")
                    .data(piece, MediaType.APPLICATION_JSON));
            return true;
        }

        @Override
        public void newTry(int attempt) throws IOException {
            line.send(SseEmitter.event().name("try").data(List.of(attempt), MediaType.APPLICATION_JSON));
        }

        @Override
        public void end(RunState state) throws IOException {
            line.send(SseEmitter.event().name("end").data(List.of(state.word()), MediaType.APPLICATION_JSON));
            line.end();
        }

        @Override
        public void beat() throws IOException {
            line.send(SseEmitter.event().comment("still here"));
        }

        @Override
        public void leave() {
            line.end();
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
