package org.gantrel.service.execution;

import java.io.IOException;
import java.io.RandomAccessFile;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/**
 * Looks at the logs of what is under way, from time to time: reads what is told there of progress, and keeps each from
 * growing without end. Of one that has become too large the middle is left out, and its command goes on: how it began and
 * what it said last is what people need, and a command that says too much is no reason to end a night's work.
 */
@Component
class GrowingLogs implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(GrowingLogs.class);
    private static final long LOOK_EVERY_MILLIS = 1_000;
    private static final long PATIENCE_SECONDS = 30;

    private final ProgressWatch progress;
    private final long most;
    private final Map<Long, Growing> growing = new ConcurrentHashMap<>();
    private final ScheduledExecutorService looks = Threads.timer("log-sizes");

    /** The log of an attempt, and who is told of it. */
    private record Growing(RunFolder folder, Consumer<String> news) {}

    GrowingLogs(ProgressWatch progress, Settings settings) {
        this.progress = progress;
        this.most = settings.limits().largestLog();
        looks.scheduleWithFixedDelay(this::look, LOOK_EVERY_MILLIS, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
    }

    /**
     * Follows what an attempt writes.
     *
     * @param cover covers its secrets
     * @param news is told what belongs into the run's timeline
     */
    void follow(Attempt attempt, UnaryOperator<String> cover, Consumer<String> news) {
        long number = attempt.run().number();
        progress.follow(number, attempt.folder(), cover);
        growing.put(number, new Growing(attempt.folder(), news));
    }

    /** It has ended, and grows no more; what it left is small enough to be looked through. */
    void ended(long number) {
        Growing last = growing.remove(number);
        if (last != null) {
            cut(last);
        }
    }

    /** Reads the rest of what an attempt wrote, and gives the values that it told. */
    Map<String, String> end(long number) {
        ended(number);
        return progress.end(number);
    }

    /** How many bytes of a log are kept. */
    long most() {
        return most;
    }

    /**
     * Leaves out what has not been brought of a log up to a place, with what was left out before; the next byte that is added
     * is the one at that place.
     */
    void leaveOut(long number, Path file, long to) throws IOException, InterruptedException {
        if (skip(file, to)) {
            Growing told = growing.get(number);
            if (told != null) {
                told.news().accept(grew() + ": its middle is left out, and the command goes on");
            }
        }
    }

    /** The same; says whether nothing was left out before. */
    private synchronized boolean skip(Path file, long to) throws IOException, InterruptedException {
        var log = new LogFile(file);
        long size = Files.size(file);
        Optional<LogFile.Gap> before = log.gap();
        long from = before.isPresent() ? before.get().from() : log.lastLine();
        log.note(Optional.of(new LogFile.Gap(from, to)));
        try (var whole = new RandomAccessFile(file.toFile(), "rw")) {
            if (before.isPresent()) {
                free(file, new LogFile.Gap(from, size));
            }
            // what was never written takes no room
            whole.setLength(to);
        } catch (IOException e) {
            log.note(before);
            throw e;
        }
        return before.isEmpty();
    }

    private String grew() {
        return "its log grew past " + size(most) + " (log-limit)";
    }

    private void look() {
        growing.values().forEach(this::cut);
    }

    private void cut(Growing each) {
        try {
            if (cut(each.folder().log())) {
                each.news().accept(grew() + ": its middle is left out, and the command goes on");
            }
            cut(each.folder().errors());
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        } catch (Throwable e) {
            // it would be no better at the next look
            growing.values().remove(each);
            LOG.warn(
                    "the middle of what {} holds cannot be left out",
                    each.folder().path(),
                    e);
            each.news().accept(grew() + ", and its middle cannot be left out: " + e.getMessage());
        }
    }

    /** Leaves out what is too much; says whether nothing was left out before. */
    private synchronized boolean cut(Path file) throws IOException, InterruptedException {
        var log = new LogFile(file);
        Optional<LogFile.Gap> wanted = log.excess(most);
        if (wanted.isEmpty()) {
            return false;
        }
        Optional<LogFile.Gap> before = log.gap();
        // whoever reads it passes over what is about to go
        log.note(wanted);
        try {
            free(file, wanted.get());
        } catch (IOException e) {
            log.note(before);
            throw e;
        }
        return before.isEmpty();
    }

    /** Gives back what a part of a file takes on the disk; the file stays as long as it is (fallocate(2)). */
    void free(Path file, LogFile.Gap gap) throws IOException, InterruptedException {
        Process process = new ProcessBuilder(List.of(
                        "fallocate",
                        "--punch-hole",
                        "--offset",
                        String.valueOf(gap.from()),
                        "--length",
                        String.valueOf(gap.size()),
                        file.toString()))
                .redirectErrorStream(true)
                .start();
        process.getOutputStream().close();
        if (!process.waitFor(PATIENCE_SECONDS, TimeUnit.SECONDS)) {
            process.destroyForcibly();
            throw new IOException("the disk did not answer within " + PATIENCE_SECONDS + " s");
        }
        if (process.exitValue() != 0) {
            throw new IOException(new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8).strip());
        }
    }

    /** So many bytes, as people read them. */
    static String size(long bytes) {
        return bytes >= 10L << 30 ? (bytes >> 30) + " GB" : Math.max(1, bytes >> 20) + " MB";
    }

    @Override
    public void destroy() {
        looks.shutdownNow();
    }
}
