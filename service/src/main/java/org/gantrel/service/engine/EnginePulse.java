package org.gantrel.service.engine;

import java.time.Duration;
import java.util.function.Consumer;

/** Whether the engine works. */
public interface EnginePulse {

    boolean isAlive();

    /** How long ago a step of the engine went well. */
    Duration sinceLastGoodStep();

    /** Is told how long each step took that went well; it must come back at once. */
    void onStep(Consumer<Duration> listener);

    /** Whether the last step only heard of ends that came while the engine was away, and decided nothing yet. */
    boolean onlyHears();

    /** What went wrong in the last step; empty where it went well. */
    String fault();
}
