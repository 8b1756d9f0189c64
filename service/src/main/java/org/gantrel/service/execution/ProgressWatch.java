package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.function.UnaryOperator;
import org.gantrel.core.run.Progress;
import org.gantrel.service.run.RunProgress;
import org.gantrel.service.time.Threads;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.DisposableBean;
import org.springframework.stereotype.Component;

/**
 * Reads what work that is under way says of its progress, in the log that it writes. Each look reads a bounded piece of each
 * log, so that one that pours lines out keeps no other from being read.
 */
@Component
class ProgressWatch implements DisposableBean {

    private static final Logger LOG = LoggerFactory.getLogger(ProgressWatch.class);
    private static final long LOOK_EVERY_MILLIS = 1_000;
    private static final int PIECE = 256 * 1024;
    private static final int MOST_AT_THE_END = 64;

    private static final class Reading {
        private final RunFolder folder;
        private final UnaryOperator<String> cover;
        private long at;
        private Progress said = new Progress(Optional.empty(), "", Map.of());
        private boolean news;

        private Reading(RunFolder folder, UnaryOperator<String> cover) {
            this.folder = folder;
            this.cover = cover;
        }

        /** Reads the next piece; says whether there may be more. */
        private synchronized boolean read() throws IOException {
            LogFile log = folder.logFile();
            at = log.onward(at);
            byte[] bytes = log.read(at, PIECE);
            boolean more = bytes.length == PIECE || log.onward(at + bytes.length) > at + bytes.length;
            int end = bytes.length;
            while (end > 0 && bytes[end - 1] != '\n') {
                end--;
            }
            if (end == 0) {
                // a line that is longer than all this is none of ours
                at += more ? bytes.length : 0;
                return more;
            }
            at += end;
            String text = new String(bytes, 0, end, StandardCharsets.UTF_8);
            if (text.contains(Progress.MARK)) {
                text.lines().flatMap(line -> Progress.of(line).stream()).forEach(progress -> {
                    said = said.then(covered(progress));
                    news = true;
                });
            }
            return more;
        }

        private Progress covered(Progress progress) {
            var values = new HashMap<String, String>();
            progress.values().forEach((name, value) -> values.put(cover.apply(name), cover.apply(value)));
            return new Progress(progress.share(), cover.apply(progress.text()), values);
        }

        private synchronized Optional<Progress> news() {
            boolean told = news;
            news = false;
            return told ? Optional.of(said) : Optional.empty();
        }

        private synchronized Map<String, String> values() {
            return said.values();
        }
    }

    private final RunProgress kept;
    private final Map<Long, Reading> readings = new ConcurrentHashMap<>();
    private final ScheduledExecutorService looks = Threads.timer("progress");

    ProgressWatch(RunProgress kept) {
        this.kept = kept;
        looks.scheduleWithFixedDelay(this::look, LOOK_EVERY_MILLIS, LOOK_EVERY_MILLIS, TimeUnit.MILLISECONDS);
    }

    /** Follows what an attempt writes. @param cover covers its secrets */
    void follow(long number, RunFolder folder, UnaryOperator<String> cover) {
        readings.put(number, new Reading(folder, cover));
    }

    /** Reads the rest of what an attempt wrote, and gives the values that it told. */
    Map<String, String> end(long number) {
        Reading reading = readings.remove(number);
        if (reading == null) {
            return Map.of();
        }
        try {
            for (int i = 0; i < MOST_AT_THE_END && reading.read(); i++) {
                LOG.trace("run {} has said more", number);
            }
            reading.news().ifPresent(progress -> kept.note(number, progress));
        } catch (IOException | RuntimeException e) {
            LOG.debug("the progress of run {} cannot be read to its end", number, e);
        }
        return reading.values();
    }

    private void look() {
        readings.forEach((number, reading) -> {
            try {
                reading.read();
                reading.news().ifPresent(progress -> kept.note(number, progress));
            } catch (Throwable e) {
                LOG.debug("the progress of run {} cannot be read", number, e);
            }
        });
    }

    @Override
    public void destroy() {
        looks.shutdownNow();
    }
}
