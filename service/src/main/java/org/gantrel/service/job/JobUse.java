package org.gantrel.service.job;

import java.util.List;
import org.gantrel.core.job.Job;
import org.gantrel.service.credential.CredentialUse;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Which jobs speak of a thing. */
@Component
@Transactional(readOnly = true)
class JobUse implements CredentialUse {

    private final Jobs jobs;

    JobUse(Jobs jobs) {
        this.jobs = jobs;
    }

    @Override
    public List<String> ofCredential(String name) {
        return jobs.everything().stream()
                .filter(record -> jobs.current(record) instanceof Job.Task task
                        && task.credentials().contains(name))
                .map(JobEntry::name)
                .toList();
    }
}
