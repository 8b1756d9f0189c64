package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.run.Progress;
import org.gantrel.service.run.Run;
import org.gantrel.service.run.RunLogs;
import org.gantrel.service.run.RunValues;
import org.springframework.stereotype.Component;

/** Reads the logs that commands write. Secret values are covered on the way out. */
@Component
class LogFiles implements RunLogs {

    private final Launcher launcher;
    private final RunValues values;

    LogFiles(Launcher launcher, RunValues values) {
        this.launcher = launcher;
        this.values = values;
    }

    @Override
    public long size(long number) {
        return launcher.folder(number).logFile().size();
    }

    @Override
    public Piece read(Run run, int attempt, long from, int mostBytes) {
        RunFolder own = launcher.folder(run.number());
        RunFolder earlier = own.ofTry(attempt);
        boolean over = attempt < run.attempt() || run.again().isPresent();
        // until the next try begins, what the last one left is where it was
        LogFile log = (over && Files.exists(earlier.path()) ? earlier : own).logFile();
        long start = Math.max(0, Math.min(from, log.size()));
        Optional<LogFile.Gap> gap = log.gap();
        if (gap.filter(each -> each.holds(start)).isPresent()) {
            return new Piece(leftOut(gap.get()), start, gap.get().to());
        }
        byte[] bytes = bytes(log, start, mostBytes);
        int end = endOfLastLine(bytes);
        boolean longLine = end == 0 && bytes.length == mostBytes;
        boolean complete = (over || run.state().isEnded()) && bytes.length < mostBytes;
        boolean broken = gap.filter(each -> each.from() == start + bytes.length).isPresent();
        int length = longLine || complete || broken ? bytes.length : end;
        String text = new String(bytes, 0, length, StandardCharsets.UTF_8);
        return new Piece(Mask.of(values.secrets(run)).over(Progress.without(text)), start, start + length);
    }

    private static String leftOut(LogFile.Gap gap) {
        return "--- " + GrowingLogs.size(gap.size()) + " of the log were left out here: it grew past log-limit ---\n";
    }

    @Override
    public List<String> lastLines(Run run, int most) {
        Mask mask = Mask.of(values.secrets(run));
        return launcher.folder(run.number()).lastLines(most).stream()
                .map(mask::over)
                .toList();
    }

    @Override
    public Path outputs(long number) {
        return launcher.folder(number).outputs();
    }

    private static int endOfLastLine(byte[] bytes) {
        for (int i = bytes.length - 1; i >= 0; i--) {
            if (bytes[i] == '\n') {
                return i + 1;
            }
        }
        return 0;
    }

    private static byte[] bytes(LogFile log, long from, int most) {
        try {
            return log.read(from, most);
        } catch (IOException e) {
            return new byte[0];
        }
    }
}
