package org.gantrel.service.job;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.gantrel.core.job.Job;
import org.gantrel.service.credential.CredentialUse;
import org.gantrel.service.lane.LaneUse;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Which jobs speak of a thing. */
@Component
@Transactional(readOnly = true)
class JobUse implements CredentialUse, LaneUse {

    private final Jobs jobs;

    JobUse(Jobs jobs) {
        this.jobs = jobs;
    }

    @Override
    public List<Needing> needing(String lane) {
        return jobs.everything().stream()
                .flatMap(record ->
                        Optional.ofNullable(jobs.current(record).rules().lanes().get(lane))
                                .map(places -> new Needing(record.name(), record.team(), places))
                                .stream())
                .toList();
    }

    @Override
    public Map<String, String> ofCredential(String name) {
        return jobs.everything().stream()
                .filter(record -> jobs.current(record) instanceof Job.Task task
                        && task.credentials().contains(name))
                .collect(Collectors.toMap(JobEntry::name, JobEntry::team, (a, b) -> a, TreeMap::new));
    }
}
