package org.gantrel.service.gate;

import java.io.IOException;
import java.util.List;
import java.util.function.Function;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.gate.Gates.Look;
import org.gantrel.service.run.Run;

/** Looks at what lies outside of this service, with the rights of the job whose run waits. May take long. */
public interface GateSight {

    /** One run's eyes: {@code look} for each of its gates; texts are covered where they hold secrets. */
    <T> T during(Run run, Function<Eyes, T> looking) throws IOException;

    /** Looks at one gate, every expression worked out. */
    interface Eyes {
        Look look(Gate gate) throws InterruptedException;
    }

    /** The gates that this one can look at. */
    List<Class<? extends Gate>> SEEN =
            List.of(Gate.FileThere.class, Gate.FreeSpace.class, Gate.Load.class, Gate.Expected.class);
}
