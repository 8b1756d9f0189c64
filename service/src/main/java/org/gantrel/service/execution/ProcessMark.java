package org.gantrel.service.execution;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;

/**
 * A process that can be found again. The number alone may be given to another process later; with the start time, in
 * clock ticks since the host started (proc(5), field 22 of stat), it is sure.
 */
record ProcessMark(long pid, String start) {

    static Optional<ProcessMark> parse(String text) {
        String[] words = text.strip().split(" ");
        return words.length == 2 && words[0].matches("\\d{1,10}")
                ? Optional.of(new ProcessMark(Long.parseLong(words[0]), words[1]))
                : Optional.empty();
    }

    /** The process, if it is still the same one. */
    Optional<ProcessHandle> find() {
        return ProcessHandle.of(pid).filter(ProcessHandle::isAlive).filter(handle -> startOf(pid)
                .equals(start));
    }

    private static String startOf(long pid) {
        try {
            String stat = Files.readString(Path.of("/proc", String.valueOf(pid), "stat"));
            // the name in parentheses may hold anything, blanks too; the fields after it are plain
            String[] fields = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
            return fields[19];
        } catch (IOException | IndexOutOfBoundsException e) {
            return "gone";
        }
    }
}
