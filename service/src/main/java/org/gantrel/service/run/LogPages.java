package org.gantrel.service.run;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.concurrent.TimeUnit;
import java.util.function.Predicate;
import java.util.regex.Pattern;
import org.springframework.stereotype.Component;

/**
 * A log by its lines, however long it is: any stretch of it, and the lines that hold something. Where every so many
 * lines begin is kept for what was looked at last; a log that grows is only read on.
 */
@Component
class LogPages {

    private static final int PIECE = 256 * 1024;
    private static final int LONGEST_LINE = 10_000;
    private static final long LONGEST_SEARCH = TimeUnit.SECONDS.toNanos(4);
    private static final Pattern ANSI = Pattern.compile("\u001b\\[[0-9;?]*[ -/]*[@-~]");
    private static final Pattern ERROR = Pattern.compile(
            "\\b(error|fail(ed|ure)?|fatal|exception|refused|denied|missing|cannot)\\b", Pattern.CASE_INSENSITIVE);

    /**
     * A stretch of lines.
     *
     * @param attempt the try whose log it is
     * @param from the number of the first of these lines, from 0
     * @param total how many lines there are by now
     * @param bytes how far the log was read for that; a live stream goes on from here
     */
    record Lines(int attempt, long from, long total, long bytes, List<String> lines) {}

    /**
     * The lines that were found.
     *
     * @param lines their numbers, from 0
     * @param next where to go on, if not all was looked at
     */
    record Hits(List<Long> lines, Long next) {}

    private record Key(long number, int attempt) {}

    /** Where pieces begin: the byte, and how many lines have ended before it. */
    private record Mark(long at, long lines) {}

    /** Where the pieces of one log begin, and how many lines they have; grows with the log. */
    private static final class Index {
        private final List<Mark> marks = new ArrayList<>();
        private long at;
        private long lines;
        private boolean open;
    }

    private final RunLogs logs;
    private final Cache<Key, Index> known = Caffeine.newBuilder()
            .maximumSize(200)
            .expireAfterAccess(Duration.ofMinutes(30))
            .build();

    LogPages(RunLogs logs) {
        this.logs = logs;
    }

    /**
     * Some lines of a log.
     *
     * @param from the first, from 0; one below 0 counts from the end
     * @param count how many at most
     */
    Lines lines(Run run, int attempt, long from, int count) {
        Index index = known.get(new Key(run.number(), attempt), key -> new Index());
        synchronized (index) {
            long total = readOn(run, attempt, index);
            long first = Math.max(0, Math.min(total, from < 0 ? total + from : from));
            return new Lines(attempt, first, total, index.at, stretch(run, attempt, index, first, count));
        }
    }

    /** The numbers of lines that hold a text, in any case of letters, or look like errors. */
    Hits find(Run run, int attempt, String text, boolean errors, long from, int limit) {
        String wanted = text.toLowerCase(Locale.ROOT);
        Predicate<String> holds = line -> {
            String plain = ANSI.matcher(line).replaceAll("");
            return errors
                    ? ERROR.matcher(plain).find()
                    : plain.toLowerCase(Locale.ROOT).contains(wanted);
        };
        Index index = known.get(new Key(run.number(), attempt), key -> new Index());
        Mark begin;
        synchronized (index) {
            readOn(run, attempt, index);
            begin = markBefore(index, from);
        }
        // the index is let go: a search of all of a long log keeps nobody from reading it
        return search(new Walk(run, attempt, begin), holds, from, limit);
    }

    private Hits search(Walk walk, Predicate<String> holds, long from, int limit) {
        List<Long> found = new ArrayList<>();
        long until = System.nanoTime() + LONGEST_SEARCH;
        for (String line = walk.next(); line != null; line = walk.next()) {
            if (walk.number < from) {
                continue;
            }
            if (found.size() >= limit || System.nanoTime() > until) {
                return new Hits(found, walk.number);
            }
            if (holds.test(line)) {
                found.add(walk.number);
            }
        }
        return new Hits(found, null);
    }

    private static Mark markBefore(Index index, long line) {
        int low = 0;
        int high = index.marks.size() - 1;
        Mark best = new Mark(0, 0);
        while (low <= high) {
            int middle = (low + high) >>> 1;
            if (index.marks.get(middle).lines() <= line) {
                best = index.marks.get(middle);
                low = middle + 1;
            } else {
                high = middle - 1;
            }
        }
        return best;
    }

    private long readOn(Run run, int attempt, Index index) {
        RunLogs.Piece piece = logs.read(run, attempt, index.at, PIECE);
        while (piece.to() > index.at) {
            // a piece that begins within a line is no place to begin with
            if (!index.open) {
                index.marks.add(new Mark(index.at, index.lines));
            }
            String text = piece.text();
            index.lines += text.chars().filter(c -> c == '\n').count();
            index.open = text.isEmpty() ? index.open : !text.endsWith("\n");
            index.at = piece.to();
            piece = logs.read(run, attempt, index.at, PIECE);
        }
        return index.lines + (index.open ? 1 : 0);
    }

    private List<String> stretch(Run run, int attempt, Index index, long first, int count) {
        List<String> lines = new ArrayList<>();
        var walk = new Walk(run, attempt, markBefore(index, first));
        for (String line = walk.next(); line != null && lines.size() < count; line = walk.next()) {
            if (walk.number >= first) {
                lines.add(shortened(line));
            }
        }
        return lines;
    }

    private static String shortened(String line) {
        return line.length() <= LONGEST_LINE
                ? line
                : line.substring(0, LONGEST_LINE) + " … " + (line.length() - LONGEST_LINE)
                        + " more characters are in the download";
    }

    /** Goes through a log line by line. */
    private final class Walk {
        private final Run run;
        private final int attempt;
        private long at;
        private String text = "";
        private int place;
        private long number;

        private Walk(Run run, int attempt, Mark begin) {
            this.run = run;
            this.attempt = attempt;
            this.at = begin.at();
            this.number = begin.lines() - 1;
        }

        /** The next line without its end; null where there is none. */
        private String next() {
            int end = text.indexOf('\n', place);
            while (end < 0 && more()) {
                end = text.indexOf('\n', place);
            }
            if (end < 0 && place >= text.length()) {
                return null;
            }
            int stop = end < 0 ? text.length() : end;
            String line = text.substring(place, stop > place && text.charAt(stop - 1) == '\r' ? stop - 1 : stop);
            place = end < 0 ? text.length() : end + 1;
            number++;
            return line;
        }

        private boolean more() {
            RunLogs.Piece piece = logs.read(run, attempt, at, PIECE);
            if (piece.to() <= at) {
                return false;
            }
            at = piece.to();
            String rest = text.substring(place);
            // a line that never ends is not kept whole; its beginning is what is shown of it
            text = (rest.length() > PIECE ? rest.substring(0, 2 * LONGEST_LINE) : rest) + piece.text();
            place = 0;
            return true;
        }
    }
}
