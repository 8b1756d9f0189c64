package org.gantrel.service.job;

import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
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
    public Map<String, String> ofCredential(String name) {
        return jobs.everything().stream()
                .filter(record -> jobs.current(record) instanceof Job.Task task
                        && task.credentials().contains(name))
                .collect(Collectors.toMap(JobEntry::name, JobEntry::team, (a, b) -> a, TreeMap::new));
    }
}
