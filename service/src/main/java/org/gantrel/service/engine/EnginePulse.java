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

    /** What went wrong in the last step; empty where it went well. */
    String fault();
}
