package org.gantrel.service.execution;

import java.util.Optional;
import java.util.function.BiConsumer;
import org.gantrel.service.run.Run;

/** Work that others do, and tell of. */
public interface OutsideWork {

    /**
     * Waits for the end of a run to be told; one that was told already is handed over at once.
     *
     * @param ended is told how it ended, with its exit code, once
     */
    InProcess.UnderWay begin(Run run, BiConsumer<TaskResult, Optional<Integer>> ended);
}
