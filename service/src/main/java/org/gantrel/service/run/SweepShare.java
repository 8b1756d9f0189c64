package org.gantrel.service.run;

import java.util.Optional;
import org.gantrel.core.run.Progress;

/** How far a sweep is; those who keep rows know. */
public interface SweepShare {

    /** Nothing before its rows are drawn. */
    Optional<Progress> progress(long sweep);
}
