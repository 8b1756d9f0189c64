package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import org.gantrel.service.run.RunLogs;
import org.gantrel.service.run.RunRecord;
import org.gantrel.service.run.Runs;
import org.springframework.stereotype.Component;

/** Reads the logs that commands write. Secret values are covered on the way out. */
@Component
class LogFiles implements RunLogs {

    private final Launcher launcher;
    private final Runs runs;

    LogFiles(Launcher launcher, Runs runs) {
        this.launcher = launcher;
        this.runs = runs;
    }

    @Override
    public long size(long number) {
        Path log = launcher.folder(number).log();
        try {
            return Files.isRegularFile(log) ? Files.size(log) : 0;
        } catch (IOException e) {
            return 0;
        }
    }

    @Override
    public Piece read(RunRecord run, long from, int mostBytes) {
        long start = Math.max(0, Math.min(from, size(run.number())));
        byte[] bytes = bytes(launcher.folder(run.number()).log(), start, mostBytes);
        int end = endOfLastLine(bytes);
        boolean longLine = end == 0 && bytes.length == mostBytes;
        boolean complete = run.state().isEnded() && bytes.length < mostBytes;
        int length = longLine || complete ? bytes.length : end;
        String text = new String(bytes, 0, length, StandardCharsets.UTF_8);
        return new Piece(Mask.of(runs.secrets(run)).over(text), start, start + length);
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

    private static byte[] bytes(Path log, long from, int most) {
        if (!Files.isRegularFile(log)) {
            return new byte[0];
        }
        try (var channel = Files.newByteChannel(log)) {
            channel.position(from);
            var buffer = ByteBuffer.allocate((int) Math.min(most, Math.max(0, channel.size() - from)));
            boolean more = true;
            while (more && buffer.hasRemaining()) {
                more = channel.read(buffer) >= 0;
            }
            return Arrays.copyOf(buffer.array(), buffer.position());
        } catch (IOException e) {
            return new byte[0];
        }
    }
}
