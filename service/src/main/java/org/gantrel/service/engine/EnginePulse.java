package org.gantrel.service.engine;

import java.time.Duration;

/** Whether the engine works. */
public interface EnginePulse {

    boolean isAlive();

    /** How long ago a step of the engine went well. */
    Duration sinceLastGoodStep();

    /** What went wrong in the last step; empty where it went well. */
    String fault();
}
