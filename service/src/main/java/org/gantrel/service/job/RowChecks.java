package org.gantrel.service.job;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.service.roster.RowUse;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Holds the rows of a roster against the parameters of the jobs that schedules run over it. */
@Component
@Transactional(readOnly = true)
class RowChecks implements RowUse {

    private final Jobs jobs;

    RowChecks(Jobs jobs) {
        this.jobs = jobs;
    }

    @Override
    public List<String> complaints(String roster, List<Row> rows, Collection<Job> together) {
        if (rows.isEmpty()) {
            return List.of();
        }
        Map<String, Job> found = new LinkedHashMap<>();
        jobs.everything().forEach(record -> found.put(record.name(), jobs.current(record)));
        together.forEach(job -> found.put(job.name(), job));
        var said = new ArrayList<String>();
        int more = 0;
        for (Job job : found.values()) {
            if (job.schedules().stream().noneMatch(schedule -> schedule.over().equals(roster))) {
                continue;
            }
            for (int i = 0; i < rows.size(); i++) {
                for (Problem problem : rows.get(i).included()
                        ? job.parameters().complaints(rows.get(i).values())
                        : List.<Problem>of()) {
                    if (said.size() < MOST_SAID) {
                        said.add("row " + (i + 1) + ", column " + problem.field() + ": " + problem.message() + " (job "
                                + job.name() + ")");
                    } else {
                        more++;
                    }
                }
            }
        }
        if (more > 0) {
            said.add("and " + more + " more");
        }
        return said;
    }
}
