package org.gantrel.service.job;

import java.util.List;
import org.gantrel.core.job.Job;

/** Looks at a definition that is right in itself and says what will probably go wrong when it runs here. */
public interface JobAdvice {

    List<String> warnings(Job job);
}
