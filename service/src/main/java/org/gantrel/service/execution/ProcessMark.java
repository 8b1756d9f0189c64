package org.gantrel.service.execution;

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

    /**
     * Whether the process is there, and still the same one. One that has ended is not, even where its parent never asks how,
     * as in a container whose first process does not see to orphans (proc_pid_stat(5), state Z).
     */
    boolean isAlive() {
        return ProcessSeen.of(pid)
                .filter(seen -> seen.start().equals(start) && seen.isAlive())
                .isPresent();
    }
}
