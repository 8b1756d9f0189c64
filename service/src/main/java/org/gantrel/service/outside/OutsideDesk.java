package org.gantrel.service.outside;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.BiConsumer;
import org.gantrel.core.run.Ending;
import org.gantrel.core.run.RunState;
import org.gantrel.service.execution.InProcess;
import org.gantrel.service.execution.OutsideWork;
import org.gantrel.service.execution.TaskResult;
import org.gantrel.service.gate.OutsideSight;
import org.gantrel.service.run.Run;
import org.springframework.stereotype.Component;

/**
 * Where the ends of work that others do come in: who waits for one is told as soon as it is there, also where it was told
 * before anybody waited.
 */
@Component
class OutsideDesk implements OutsideSight, OutsideWork {

    private final TellStore tells;
    private final Map<Long, BiConsumer<TaskResult, Optional<Integer>>> waiting = new ConcurrentHashMap<>();

    OutsideDesk(TellStore tells) {
        this.tells = tells;
    }

    @Override
    public boolean hasBegun(long run) {
        return tells.existsById(run);
    }

    @Override
    public InProcess.UnderWay begin(Run run, BiConsumer<TaskResult, Optional<Integer>> ended) {
        waiting.put(run.number(), ended);
        // what is told between these two lines is handed over once: whoever takes it out of the map does
        tells.findById(run.number()).filter(Tell::isOver).ifPresent(this::over);
        return () -> Optional.ofNullable(waiting.remove(run.number()))
                .ifPresent(each -> each.accept(
                        TaskResult.failed("nobody waits for its end any more; what is done outside may go on"),
                        Optional.empty()));
    }

    /** Hands an end over that is written down. */
    void over(Tell tell) {
        Optional.ofNullable(waiting.remove(tell.run()))
                .ifPresent(each ->
                        each.accept(TaskResult.ended(ending(tell), List.of(), tell.results()), tell.exitCode()));
    }

    private static Ending ending(Tell tell) {
        RunState state = tell.state().equals("warned")
                ? RunState.WARNED
                : tell.exitCode().orElse(0) == 0 && !tell.state().equals("failed")
                        ? RunState.SUCCEEDED
                        : RunState.FAILED;
        String code = state == RunState.FAILED
                ? tell.exitCode().map(number -> "exit code " + number).orElse("")
                : "";
        String both = code.isEmpty() || tell.message().isEmpty() ? code + tell.message() : code + ": " + tell.message();
        return new Ending(state, both);
    }
}
