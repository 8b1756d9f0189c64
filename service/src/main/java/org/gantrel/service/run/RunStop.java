package org.gantrel.service.run;

/** Stops a running run; the engine does it. */
public interface RunStop {

    void stop(long number);
}
