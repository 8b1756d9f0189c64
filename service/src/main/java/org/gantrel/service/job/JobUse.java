package org.gantrel.service.job;

import java.util.List;
import org.gantrel.core.job.Job;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Which jobs speak of a thing. */
@Component
@Transactional(readOnly = true)
public class JobUse {

    private final Jobs jobs;

    JobUse(Jobs jobs) {
        this.jobs = jobs;
    }

    /** The jobs in use that act as a credential, or use it beside. */
    public List<String> ofCredential(String name) {
        return jobs.everything().stream()
                .filter(record -> jobs.current(record) instanceof Job.Task task
                        && task.credentials().contains(name))
                .map(JobRecord::name)
                .toList();
    }
}
