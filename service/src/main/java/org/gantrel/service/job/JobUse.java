package org.gantrel.service.job;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Step;
import org.gantrel.service.credential.CredentialUse;
import org.gantrel.service.lane.LaneUse;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.roster.RosterUse;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Which jobs speak of a thing. */
@Component
@Transactional(readOnly = true)
class JobUse implements CredentialUse, LaneUse, RosterUse {

    /** Of a job that is changed all the time, the latest so many are looked at. */
    private static final int MOST_REVISIONS = 50;

    private final Jobs jobs;
    private final Rosters rosters;

    JobUse(Jobs jobs, Rosters rosters) {
        this.rosters = rosters;
        this.jobs = jobs;
    }

    /**
     * Refuses to take jobs out of use that others speak of, unless those go too: chains, gates, and rosters of their outputs.
     *
     * @throws Refusal naming the users that the caller may see
     */
    void refuseWhereUsed(Caller caller, List<String> going) {
        var told = new ArrayList<String>();
        int others = 0;
        for (JobEntry record : jobs.everything()) {
            if (going.contains(record.name())) {
                continue;
            }
            for (String use : uses(jobs.current(record), going)) {
                if (caller.may(Deed.SEE_JOBS, record.team())) {
                    told.add(record.name() + " (" + use + ")");
                } else {
                    others++;
                }
            }
        }
        for (String job : going) {
            for (Map.Entry<String, String> roster : rosters.drawnFrom(job).entrySet()) {
                if (caller.may(Deed.SEE_JOBS, roster.getValue())) {
                    told.add("the roster " + roster.getKey() + " (rows from an output of " + job + ")");
                } else {
                    others++;
                }
            }
        }
        if (!told.isEmpty() || others > 0) {
            throw Refusal.conflict(String.join(" and ", going) + (going.size() == 1 ? " is" : " are") + " used by "
                    + String.join(", ", told)
                    + (others == 0 ? "" : (told.isEmpty() ? "" : " and ") + others + " that you may not see")
                    + "; change those first, or let the jobs among them go too (also)");
        }
    }

    /** The jobs that speak of a job, as far as a caller may see them. */
    List<String> usedBy(Caller caller, String name) {
        return jobs.everything().stream()
                .filter(record -> caller.may(Deed.SEE_JOBS, record.team()))
                .filter(record -> !record.name().equals(name))
                .flatMap(record ->
                        uses(jobs.current(record), List.of(name)).stream().map(use -> record.name() + " (" + use + ")"))
                .toList();
    }

    private static List<String> uses(Job job, List<String> going) {
        var uses = new ArrayList<String>();
        if (job instanceof Job.Chain chain) {
            chain.steps().stream()
                    .filter(step -> !step.job().isEmpty() && going.contains(step.job()))
                    .forEach(step -> uses.add("step " + step.name()));
        }
        job.rules().gates().all().stream()
                .filter(gate -> gate instanceof Gate.JobEnded ended && going.contains(ended.job()))
                .forEach(gate -> uses.add("a gate"));
        job.triggers().stream()
                .filter(trigger -> trigger.scope().jobs().stream().anyMatch(going::contains))
                .forEach(trigger -> uses.add("the trigger " + trigger.name()));
        return uses;
    }

    private static boolean uses(Job job, String credential) {
        boolean listens = job.triggers().stream()
                .anyMatch(trigger -> trigger.source().credentials().contains(credential));
        boolean expects = job.rules()
                .expect()
                .arrivals()
                .filter(watch -> watch.host().equals(credential))
                .isPresent();
        return listens
                || expects
                || job instanceof Job.Task task && task.credentials().contains(credential)
                || job instanceof Job.Chain chain
                        && chain.steps().stream().anyMatch(step -> step.own()
                                .credential()
                                .filter(credential::equals)
                                .isPresent());
    }

    /** Refuses to take a roster out of use that schedules run over. */
    @Override
    public void refuseWhereUsed(Caller caller, String roster) {
        List<JobEntry> users = jobs.everything().stream()
                .filter(record -> goesOver(jobs.current(record), roster))
                .toList();
        List<String> told = users.stream()
                .filter(record -> caller.may(Deed.SEE_JOBS, record.team()))
                .map(JobEntry::name)
                .toList();
        int others = users.size() - told.size();
        if (!users.isEmpty()) {
            throw Refusal.conflict("schedules or steps run over the roster " + roster + ": " + String.join(", ", told)
                    + (others == 0 ? "" : (told.isEmpty() ? "" : " and ") + others + " that you may not see")
                    + "; change those first");
        }
    }

    private static boolean goesOver(Job job, String roster) {
        return job.schedules().stream().anyMatch(schedule -> schedule.over().equals(roster))
                || job instanceof Job.Chain chain
                        && chain.steps().stream().anyMatch(step -> step.over().equals(roster));
    }

    @Override
    public List<Needing> needing(String lane) {
        var all = new ArrayList<Needing>();
        for (JobEntry record : jobs.everything()) {
            Job job = jobs.current(record);
            places(job, lane).ifPresent(places -> all.add(new Needing(record.name(), record.team(), null, places)));
            steps(job, lane)
                    .forEach((step, places) -> all.add(new Needing(record.name(), record.team(), step.name(), places)));
        }
        return all;
    }

    private static Optional<Integer> places(Job job, String lane) {
        return Optional.ofNullable(job.rules().lanes().get(lane));
    }

    /** The steps of a chain that need places though their jobs may not, with how many. */
    private static Map<Step, Integer> steps(Job job, String lane) {
        Map<Step, Integer> found = new LinkedHashMap<>();
        if (job instanceof Job.Chain chain) {
            for (Step step : chain.steps()) {
                step.own().lanes().map(lanes -> lanes.get(lane)).ifPresent(places -> found.put(step, places));
            }
        }
        return found;
    }

    @Override
    public Needed needed(String lane, Instant since) {
        Map<Long, Integer> oldest = jobs.oldestSince(since);
        Set<Long> found = new HashSet<>();
        boolean byChains = false;
        for (JobEntry record : jobs.allEver()) {
            int first =
                    Math.max(oldest.getOrDefault(record.id(), record.revision()), record.revision() - MOST_REVISIONS);
            for (int revision = first; revision <= record.revision(); revision++) {
                Job job = jobs.at(record, revision);
                Map<Step, Integer> steps = steps(job, lane);
                if (places(job, lane).isPresent()) {
                    found.add(record.id());
                    byChains |= job instanceof Job.Chain;
                }
                byChains |= !steps.isEmpty();
                steps.keySet().stream()
                        .flatMap(step -> jobs.named(step.job()).stream())
                        .forEach(part -> found.add(part.id()));
            }
        }
        return new Needed(found, byChains);
    }

    @Override
    public Map<String, String> ofCredential(String name) {
        return jobs.everything().stream()
                .filter(record -> uses(jobs.current(record), name))
                .collect(Collectors.toMap(JobEntry::name, JobEntry::team, (a, b) -> a, TreeMap::new));
    }
}
