package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/**
 * A process as proc_pid_stat(5) shows it.
 *
 * @param start when it started, which tells it from another that has its number later
 */
record ProcessSeen(long pid, long parent, long session, String start, char state) {

    /** The process of a number; nothing where there is none. */
    static Optional<ProcessSeen> of(long pid) {
        return of(Path.of("/proc", String.valueOf(pid)));
    }

    /** The process of a folder below {@code /proc}; nothing where it is gone. */
    static Optional<ProcessSeen> of(Path folder) {
        try {
            // a name is bytes, and need be no text: nobody is overlooked for what he calls himself
            String stat = Files.readString(folder.resolve("stat"), StandardCharsets.ISO_8859_1);
            // the name in parentheses may hold anything, blanks too; the fields after it are plain
            String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
            return Optional.of(new ProcessSeen(
                    Long.parseLong(folder.getFileName().toString()),
                    Long.parseLong(fields[1]),
                    Long.parseLong(fields[3]),
                    fields[19],
                    fields[0].charAt(0)));
        } catch (IOException | RuntimeException e) {
            return Optional.empty();
        }
    }

    /** Whether it has not ended: one that has stays until its parent asks how. */
    boolean isAlive() {
        return state != 'Z' && state != 'X';
    }
}
