package org.gantrel.service.execution;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/**
 * The log of a command elsewhere, as it is brought here piece by piece. Of one that grows faster than it can be brought, or
 * past what is kept of a log, the middle stays there.
 */
public final class FetchedLog {

    private static final int LONG_LINE = 64 * 1024;

    private final GrowingLogs logs;
    private final long number;
    private final Path file;
    private long place;
    private String trouble = "";

    FetchedLog(GrowingLogs logs, Attempt attempt) {
        this.logs = logs;
        this.number = attempt.run().number();
        this.file = attempt.folder().log();
    }

    /** Goes on where a service of before has ended. */
    public void resume() throws IOException {
        place = Files.exists(file) ? Files.size(file) : 0;
    }

    /** Whether nothing has been brought. */
    public boolean isEmpty() {
        return place == 0;
    }

    /**
     * From where on it is to be brought next.
     *
     * @param size how many bytes it has there
     */
    public long next(long size) {
        boolean isTooMuch = place >= logs.most() / 2 && size - place > logs.most() / 2;
        return isTooMuch ? size - logs.most() / 4 : place;
    }

    /** Takes a piece. @param from where it begins; what lies before that and has not been brought is left out */
    public void add(long from, byte[] bytes) throws InterruptedException {
        long end = from + bytes.length;
        if (trouble.isEmpty()) {
            try {
                int begin = 0;
                if (from > place) {
                    begin = afterLine(bytes);
                    logs.leaveOut(number, file, from + begin);
                }
                try (OutputStream log =
                        Files.newOutputStream(file, StandardOpenOption.CREATE, StandardOpenOption.APPEND)) {
                    log.write(bytes, begin, bytes.length - begin);
                }
            } catch (IOException e) {
                trouble = "its log is not whole: " + e.getMessage();
            }
        }
        place = end;
    }

    /** Where the first whole line begins; the beginning where that is too far away. */
    private static int afterLine(byte[] bytes) {
        for (int i = 0; i < Math.min(bytes.length, LONG_LINE); i++) {
            if (bytes[i] == '\n') {
                return i + 1;
            }
        }
        return 0;
    }

    /** What keeps it from being whole; empty where it is. */
    public String trouble() {
        return trouble;
    }
}
