package org.gantrel.service.run;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("A log by its lines")
class LogPagesTest {

    private static final int SEEDS = 200;

    /** A log in memory, read as the service reads files: whole lines, unless one is longer than a piece or the run is over. */
    private static final class Kept implements RunLogs {
        private byte[] bytes = new byte[0];
        private boolean over;

        private void add(String text) {
            byte[] more = text.getBytes(StandardCharsets.UTF_8);
            byte[] all = Arrays.copyOf(bytes, bytes.length + more.length);
            System.arraycopy(more, 0, all, bytes.length, more.length);
            bytes = all;
        }

        @Override
        public long size(long number) {
            return bytes.length;
        }

        @Override
        public Piece read(Run run, int attempt, long from, int mostBytes) {
            int start = (int) Math.min(from, bytes.length);
            // pieces of a few bytes, so that a small log has many
            int end = Math.min(bytes.length, start + Math.min(mostBytes, 64));
            int whole = end;
            while (whole > start && bytes[whole - 1] != '\n') {
                whole--;
            }
            boolean rest = over && end == bytes.length || whole == start && end - start == 64;
            int stop = rest ? end : whole;
            return new Piece(new String(bytes, start, stop - start, StandardCharsets.UTF_8), start, stop);
        }

        @Override
        public List<String> lastLines(Run run, int most) {
            return List.of();
        }

        @Override
        public Path outputs(long number) {
            return Path.of("none");
        }

        /** The lines as anybody would count them. */
        private List<String> lines() {
            String text = new String(bytes, StandardCharsets.UTF_8);
            List<String> all = new ArrayList<>(Arrays.asList(text.split("\n", -1)));
            String last = all.remove(all.size() - 1);
            if (!last.isEmpty() && over) {
                all.add(last);
            }
            return all;
        }
    }

    private static Run run() {
        Run run = mock(Run.class);
        when(run.number()).thenReturn(7L);
        return run;
    }

    private static String line(Random random) {
        String[] words = {"sailing", "ERROR", "kiosk", "café", "", "\u001b[31mfailed\u001b[0m", "x".repeat(90), "tide"};
        return words[random.nextInt(words.length)] + " " + words[random.nextInt(words.length)] + " "
                + random.nextInt(50);
    }

    @Test
    @DisplayName("gives any stretch, while it grows too, as one would cut it by hand")
    void agreesWithANaiveReading() {
        for (int seed = 0; seed < SEEDS; seed++) {
            var random = new Random(seed);
            var kept = new Kept();
            var pages = new LogPages(kept);
            Run run = run();
            for (int round = 0; round < 4; round++) {
                IntStream.range(0, random.nextInt(12)).forEach(i -> kept.add(line(random) + "\n"));
                kept.over = round == 3;
                if (kept.over && random.nextBoolean()) {
                    kept.add("no end");
                }
                List<String> all = kept.lines();
                long from = random.nextInt(2 * all.size() + 3) - all.size() - 1;
                int count = 1 + random.nextInt(20);
                LogPages.Lines got = pages.lines(run, 1, from, count);
                int first = (int) Math.max(0, Math.min(all.size(), from < 0 ? all.size() + from : from));
                assertThat(got.total()).as("seed %d", seed).isEqualTo(all.size());
                assertThat(got.from()).as("seed %d", seed).isEqualTo(first);
                assertThat(got.lines())
                        .as("seed %d", seed)
                        .isEqualTo(all.subList(first, Math.min(all.size(), first + count)));
            }
        }
    }

    @Test
    @DisplayName(
            "is searched whole, in any case of letters and without colours; a search that stops says where to go on")
    void findsAll() {
        for (int seed = 0; seed < SEEDS; seed++) {
            var random = new Random(seed);
            var kept = new Kept();
            IntStream.range(0, 60).forEach(i -> kept.add(line(random) + "\n"));
            kept.over = true;
            List<String> all = kept.lines();
            var pages = new LogPages(kept);
            List<Long> errors = matching(all, "error", "failed");
            assertThat(pages.find(run(), 1, "", true, 0, 1_000).lines()).isEqualTo(errors);
            List<Long> kiosks = matching(all, "kiosk");
            List<Long> found = new ArrayList<>();
            Long from = 0L;
            while (from != null) {
                LogPages.Hits hits = pages.find(run(), 1, "KIOSK", false, from, 3);
                assertThat(hits.lines()).hasSizeLessThanOrEqualTo(3);
                found.addAll(hits.lines());
                from = hits.next();
            }
            assertThat(found).as("seed %d", seed).isEqualTo(kiosks);
        }
    }

    private static List<Long> matching(List<String> all, String... words) {
        return IntStream.range(0, all.size())
                .filter(i -> Arrays.stream(words)
                        .anyMatch(word ->
                                all.get(i).toLowerCase(java.util.Locale.ROOT).contains(word)))
                .mapToObj(Long::valueOf)
                .toList();
    }

    @Test
    @DisplayName("shows the beginning of a line that never ends, and of one that is not there nothing")
    void boundsLines() {
        var kept = new Kept();
        kept.add("a".repeat(30_000) + "\nafter\n");
        kept.over = true;
        var pages = new LogPages(kept);
        LogPages.Lines got = pages.lines(run(), 1, 0, 10);
        assertThat(got.total()).isEqualTo(2);
        assertThat(got.lines().get(0)).hasSizeLessThan(10_100).endsWith("more characters are in the download");
        assertThat(got.lines().get(1)).isEqualTo("after");
        assertThat(pages.lines(run(), 1, 5, 10).lines()).isEmpty();
        assertThat(new LogPages(new Kept()).lines(run(), 1, -10, 10).total()).isZero();
    }
}
