package org.gantrel.service.execution;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.Mockito.RETURNS_DEEP_STUBS;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import org.gantrel.core.run.RunState;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunLogs;
import org.gantrel.service.run.RunValues;
import org.gantrel.service.settings.Settings;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A log that grows without end")
class GrowingLogsTest {

    private static final int MOST = 1 << 20;
    private static final long NUMBER = 7;
    private static final int BLOCK = 4096;

    @TempDir
    Path place;

    private final List<String> news = new ArrayList<>();
    private final Run run = mock(Run.class);
    private GrowingLogs logs;
    private RunFolder folder;

    /** Why the disk lets nothing go. */
    private String refused = "";

    /** All that was ever written. */
    private final ByteArrayOutputStream all = new ByteArrayOutputStream();

    @BeforeEach
    void begin() throws IOException {
        Settings settings = mock(Settings.class, RETURNS_DEEP_STUBS);
        when(settings.limits().largestLog()).thenReturn((long) MOST);
        when(run.number()).thenReturn(NUMBER);
        when(run.attempt()).thenReturn(1);
        when(run.again()).thenReturn(Optional.empty());
        when(run.state()).thenReturn(RunState.SUCCEEDED);
        folder = RunFolder.of(place, NUMBER);
        Files.createDirectories(folder.path());
        logs = new GrowingLogs(mock(ProgressWatch.class), settings) {
            @Override
            void free(Path file, LogFile.Gap gap) throws IOException, InterruptedException {
                if (!refused.isEmpty()) {
                    throw new IOException(refused);
                }
                super.free(file, gap);
            }
        };
    }

    @AfterEach
    void end() {
        logs.destroy();
    }

    private void write(String text) throws IOException {
        byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
        all.write(bytes);
        Files.write(folder.log(), bytes, StandardOpenOption.CREATE, StandardOpenOption.APPEND);
    }

    private void cut() {
        logs.follow(attempt(), text -> text, news::add);
        logs.ended(NUMBER);
    }

    private static long takes(Path file) throws IOException {
        return 512
                * Long.parseLong(new String(
                                new ProcessBuilder("stat", "-c", "%b", file.toString())
                                        .start()
                                        .getInputStream()
                                        .readAllBytes(),
                                StandardCharsets.UTF_8)
                        .strip());
    }

    private String model(long from, long to) {
        return new String(Arrays.copyOfRange(all.toByteArray(), (int) from, (int) to), StandardCharsets.UTF_8);
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6})
    @DisplayName("keeps its beginning and its end, at whole lines, takes no more room than it may, and reads as before")
    void isCut(long seed) throws Exception {
        var random = new Random(seed);
        int longest = random.nextBoolean() ? 100 : 30_000;
        for (int line = 0; all.size() < 5 * MOST; line++) {
            write(line + " " + "é".repeat(random.nextInt(longest)) + "\n");
            if (random.nextInt(40) == 0) {
                cut();
            }
        }
        LogFile log = folder.logFile();
        LogFile.Gap gap = small(2 * BLOCK);
        assertThat(gap.from()).isBetween(MOST / 2 - 64L * 1024, MOST / 2L);
        isAtLines(gap);
        reads(log, gap, random);
        log.pack();
        assertThat(folder.log()).doesNotExist();
        reads(log, gap, random);
        folder.deleteLog();
        try (var left = Files.list(folder.path())) {
            assertThat(left).isEmpty();
        }
    }

    @ParameterizedTest
    @ValueSource(longs = {1, 2, 3, 4, 5, 6})
    @DisplayName("is brought from another host without what is not kept, whenever that is looked at and broken off")
    void isFetched(long seed) throws Exception {
        var random = new Random(seed);
        int longest = random.nextBoolean() ? 100 : 30_000;
        logs.follow(attempt(), text -> text, news::add);
        FetchedLog fetched = new FetchedLog(logs, attempt());
        long said = 0;
        for (int line = 0; all.size() < 12 * MOST; line++) {
            all.write((line + " " + "é".repeat(random.nextInt(longest)) + "\n").getBytes(StandardCharsets.UTF_8));
            if (random.nextInt(200) == 0) {
                said = fetch(fetched, said, random.nextInt(MOST));
            }
            if (random.nextInt(1_000) == 0) {
                fetched = new FetchedLog(logs, attempt());
                fetched.resume();
                said = random.nextBoolean() ? said : 0;
                cut();
                logs.follow(attempt(), text -> text, news::add);
            }
        }
        for (long before = -1; said != before || fetched.next(said) < said; ) {
            before = said;
            said = fetch(fetched, said, MOST / 3);
        }
        LogFile log = folder.logFile();
        LogFile.Gap gap = small(64L * 1024 + 4 * BLOCK);
        assertThat(gap.from()).isGreaterThanOrEqualTo(MOST / 2 - 64L * 1024);
        isAtLines(gap);
        reads(log, gap, random);
    }

    /** Cuts it a last time. @param more what it may take beside what is kept */
    private LogFile.Gap small(long more) throws IOException {
        cut();
        assertThat(folder.logFile().size()).isEqualTo(all.size());
        assertThat(takes(folder.log())).isLessThanOrEqualTo(MOST + more);
        return folder.logFile().gap().orElseThrow();
    }

    private void isAtLines(LogFile.Gap gap) {
        assertThat(all.size() - gap.to()).isGreaterThan(MOST / 4 - 64L * 1024);
        assertThat(model(gap.from() - 1, gap.from())).isEqualTo("\n");
        assertThat(model(gap.to() - 1, gap.to())).isEqualTo("\n");
        assertThat(news).hasSize(1);
    }

    /** Brings a piece of what was said so far; gives how much that is. */
    private long fetch(FetchedLog fetched, long said, int most) throws InterruptedException {
        long from = fetched.next(said);
        fetched.add(from, Arrays.copyOfRange(all.toByteArray(), (int) from, (int) Math.min(all.size(), from + most)));
        assertThat(fetched.trouble()).isEmpty();
        return all.size();
    }

    private Attempt attempt() {
        return new Attempt(run, null, folder);
    }

    private void reads(LogFile log, LogFile.Gap gap, Random random) throws IOException {
        for (int i = 0; i < 50; i++) {
            long from = random.nextInt(all.size());
            int most = random.nextInt(3 * MOST);
            long end = gap.holds(from) ? from : from < gap.from() ? gap.from() : all.size();
            assertThat(log.read(from, most))
                    .isEqualTo(Arrays.copyOfRange(all.toByteArray(), (int) from, (int) Math.min(end, from + most)));
        }
        try (InputStream stream = log.stream()) {
            assertThat(new String(stream.readAllBytes(), StandardCharsets.UTF_8))
                    .isEqualTo(model(0, gap.from()) + model(gap.to(), all.size()));
        }
        Launcher launcher = mock(Launcher.class);
        when(launcher.folder(NUMBER)).thenReturn(folder);
        var files = new LogFiles(launcher, mock(RunValues.class));
        var read = new StringBuilder();
        RunLogs.Piece piece = files.read(run, 1, 0, 64 * 1024);
        for (long at = 0; piece.to() > at; piece = files.read(run, 1, at, 64 * 1024)) {
            read.append(piece.text());
            at = piece.to();
        }
        assertThat(read.toString())
                .isEqualTo(model(0, gap.from())
                        + "--- " + (gap.size() >> 20)
                        + " MB of the log were left out here: it grew past log-limit ---\n"
                        + model(gap.to(), all.size()));
    }

    @Test
    @DisplayName("is left as it is while it is small, and its one endless line is cut too")
    void isLeft() throws Exception {
        write("x".repeat(MOST));
        cut();
        assertThat(folder.logFile().gap()).isEmpty();
        write("x".repeat(MOST));
        cut();
        assertThat(takes(folder.log())).isLessThanOrEqualTo(MOST + 2 * BLOCK);
        assertThat(folder.logFile().stream().readAllBytes()).containsOnly((byte) 'x');
        assertThat(news)
                .containsExactly("its log grew past 1 MB (log-limit): its middle is left out, and the command goes on");
    }

    @Test
    @DisplayName("reads whole where the disk cannot let go of its middle, which is said once")
    void staysWhole() throws Exception {
        refused = "not supported";
        write("a line\n".repeat(MOST / 4));
        cut();
        assertThat(folder.logFile().stream().readAllBytes()).isEqualTo(all.toByteArray());
        assertThat(news)
                .containsExactly(
                        "its log grew past 1 MB (log-limit), and its middle cannot be left out: not supported");
    }
}
