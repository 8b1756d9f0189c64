package org.gantrel.service.job;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.service.roster.RowUse;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Holds the rows of a roster against the parameters of the jobs that schedules and chains run over it. */
@Component
@Transactional(readOnly = true)
class RowChecks implements RowUse {

    private final Jobs jobs;

    RowChecks(Jobs jobs) {
        this.jobs = jobs;
    }

    @Override
    public List<String> complaints(Caller caller, String roster, List<Row> rows, Collection<Job> together) {
        if (rows.isEmpty()) {
            return List.of();
        }
        Map<String, Job> found = new LinkedHashMap<>();
        jobs.all(caller).forEach(record -> found.put(record.name(), jobs.current(record)));
        together.forEach(job -> found.put(job.name(), job));
        var said = new ArrayList<String>();
        int more = 0;
        for (Over over : over(roster, found)) {
            for (int i = 0; i < rows.size(); i++) {
                for (Problem problem : rows.get(i).included()
                        ? over.job().parameters().complaints(rows.get(i).values())
                        : List.<Problem>of()) {
                    if (over.given().contains(problem.field())) {
                        continue;
                    }
                    if (said.size() < MOST_SAID) {
                        said.add("row " + (i + 1) + ", column " + problem.field() + ": " + problem.message() + " (job "
                                + over.job().name() + over.where() + ")");
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

    /**
     * A job that runs over a roster.
     *
     * @param given the parameters that do not come from its rows
     */
    private record Over(Job job, Set<String> given, String where) {}

    private static List<Over> over(String roster, Map<String, Job> jobs) {
        var all = new ArrayList<Over>();
        for (Job job : jobs.values()) {
            if (job.schedules().stream().anyMatch(schedule -> schedule.over().equals(roster))) {
                all.add(new Over(job, Set.of(), ""));
            }
            if (job instanceof Job.Chain chain) {
                for (Step step : chain.steps()) {
                    step.runs()
                            .filter(runs -> runs.over().equals(roster)
                                    && runs.rowsOf().isEmpty()
                                    && jobs.containsKey(runs.job()))
                            .ifPresent(runs -> all.add(new Over(
                                    jobs.get(runs.job()),
                                    step.with().keySet(),
                                    ", step " + step.name() + " of " + chain.name())));
                }
            }
        }
        return all;
    }
}
