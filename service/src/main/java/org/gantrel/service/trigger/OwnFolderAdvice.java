package org.gantrel.service.trigger;

import java.util.List;
import org.gantrel.core.job.Job;
import org.gantrel.core.trigger.OwnFolder;
import org.gantrel.service.job.JobAdvice;
import org.springframework.stereotype.Component;

/** Warns of a job that would start itself by the files that it leaves. */
@Component
class OwnFolderAdvice implements JobAdvice {

    @Override
    public List<String> warnings(Job job) {
        return OwnFolder.warnings(job);
    }
}
