package org.gantrel.service.run;

import org.springframework.stereotype.Component;

/**
 * Whether it is known, since this service started, what became of all that was under way when the one before it stopped.
 * Before that, nothing can be said of what is late or has not come.
 */
@Component
public class Resumed {

    private volatile boolean isDone;

    /** Does something only from then on. */
    public Runnable onceDone(Runnable what) {
        return () -> {
            if (isDone) {
                what.run();
            }
        };
    }

    public void done() {
        isDone = true;
    }
}
