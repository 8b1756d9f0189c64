package org.gantrel.service.job;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.access.Role;
import org.gantrel.core.action.Outside;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.Places;
import org.gantrel.core.gate.Gate;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.Overlap;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Person;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Checks definitions against what is there: teams, rights, the jobs that chains join. */
@Component
@Transactional(readOnly = true)
public class JobChecks {

    private final Jobs jobs;
    private final Teams teams;
    private final Calendars calendars;
    private final Credentials credentials;
    private final Rosters rosters;
    private final Lanes lanes;
    private final StepChecks steps;
    private final TriggerChecks triggers;

    JobChecks(
            Jobs jobs,
            Teams teams,
            Calendars calendars,
            Credentials credentials,
            Rosters rosters,
            Lanes lanes,
            StepChecks steps,
            TriggerChecks triggers) {
        this.jobs = jobs;
        this.teams = teams;
        this.calendars = calendars;
        this.credentials = credentials;
        this.rosters = rosters;
        this.lanes = lanes;
        this.steps = steps;
        this.triggers = triggers;
    }

    /** What is to be saved together. */
    public record Together(
            List<Definition> jobs, Collection<Calendar> calendars, Collection<String> rosters, Collection<Lane> lanes) {
        static Together only(Definition job) {
            return new Together(List.of(job), List.of(), List.of(), List.of());
        }
    }

    /** What is wrong with a definition that is to be saved together with others. */
    public List<Problem> problems(Caller caller, Definition definition, Together beside) {
        var problems = new ArrayList<Problem>();
        Job job = definition.job();
        checkTeam(caller, job).ifPresent(message -> problems.add(problem(definition, "team", message)));
        jobs.named(job.name())
                .filter(known -> !caller.may(Deed.DEFINE_JOBS, known.team()))
                .ifPresent(known -> problems.add(problem(
                        definition, "task", "the name '" + job.name() + "' is taken by a job you may not change")));
        String owner = job.concern().owner();
        if (!owner.isEmpty()
                && teams.person(owner).filter(person -> !person.isShut()).isEmpty()) {
            List<String> names =
                    teams.colleagues(caller).stream().map(Person::name).toList();
            problems.add(problem(
                    definition, "owner", "there is nobody called '" + owner + "'" + Nearest.hint(owner, names)));
        }
        checkCalendars(definition, beside.calendars(), problems);
        checkRosters(caller, definition, beside.rosters(), problems);
        lanes.complaints(caller, job.team(), job.rules().lanes(), beside.lanes())
                .forEach(message -> problems.add(problem(definition, "lanes", message)));
        checkGates(caller, definition, beside, problems);
        problems.addAll(triggers.problems(caller, definition, beside));
        if (job instanceof Job.Task task) {
            if (task.identity().raised() && !caller.administrator()) {
                problems.add(problem(
                        definition,
                        "raised",
                        "whoever keeps accounts may save a job with it: an " + Role.ADMINISTRATOR.word()));
            }
            checkCredential(caller, definition, "acts-as", task.identity().credential(), problems);
            task.action().credentials().stream()
                    .filter(name -> !name.equals(task.identity().credential()))
                    .forEach(name -> checkCredential(caller, definition, "does", name, problems));
            List<Gate> gates = job.rules().gates().all();
            for (int i = 0; i < gates.size(); i++) {
                checkCredential(
                        caller, definition, "gates[" + i + "]", gates.get(i).credential(), problems);
            }
            if (task.action() instanceof Outside && job.rules().overlap().mode() == Overlap.Mode.REPLACE) {
                problems.add(problem(
                        definition,
                        "while-running",
                        "'replace' stops the earlier run, and what is done outside cannot be stopped from here; wait,"
                                + " skip or a number would be right"));
            }
        }
        if (job instanceof Job.Chain chain) {
            problems.addAll(steps.problems(caller, chain, definition, beside));
        }
        return problems;
    }

    private void checkCredential(
            Caller caller, Definition definition, String field, String name, List<Problem> problems) {
        Job job = definition.job();
        Optional.of(name)
                .filter(each -> !each.isEmpty())
                .flatMap(each -> credentials.complaint(caller, each, job.team(), job.name()))
                .ifPresent(message -> problems.add(problem(definition, field, message)));
    }

    /** Only who may know of a credential is told what it is. */
    private void checkHost(Caller caller, Definition definition, String field, String name, List<Problem> problems) {
        Job job = definition.job();
        Optional.of(name)
                .filter(each -> credentials
                        .complaint(caller, each, job.team(), job.name())
                        .isEmpty())
                .flatMap(credentials::shown)
                .filter(credential -> credential.kind() != CredentialKind.SSH)
                .ifPresent(credential -> problems.add(problem(
                        definition,
                        field,
                        "'" + name + "' is of the kind " + credential.kind().word() + "; a host is one of the kind "
                                + CredentialKind.SSH.word())));
    }

    private void checkGates(Caller caller, Definition definition, Together beside, List<Problem> problems) {
        List<Gate> all = definition.job().rules().gates().all();
        for (int i = 0; i < all.size(); i++) {
            Gate gate = all.get(i);
            String field = "gates[" + i + "]";
            checkHost(caller, definition, field, gate.host(), problems);
            if (gate instanceof Gate.InCalendar in) {
                var known = new ArrayList<>(calendars.names());
                beside.calendars().forEach(calendar -> known.add(calendar.name()));
                if (!known.contains(in.calendar())) {
                    problems.add(problem(
                            definition,
                            field,
                            "there is no calendar '" + in.calendar() + "'" + Nearest.hint(in.calendar(), known)));
                }
            } else if (gate instanceof Gate.JobEnded ended) {
                var known = new ArrayList<>(
                        jobs.all(caller).stream().map(JobEntry::name).toList());
                beside.jobs().forEach(other -> known.add(other.job().name()));
                if (ended.job().equals(definition.job().name())) {
                    problems.add(problem(definition, field, "a gate cannot wait for the job itself"));
                } else if (!known.contains(ended.job())) {
                    problems.add(problem(
                            definition,
                            field,
                            "there is no job '" + ended.job() + "'" + Nearest.hint(ended.job(), known)));
                }
            }
        }
    }

    private void checkCalendars(Definition definition, Collection<Calendar> together, List<Problem> problems) {
        List<Schedule> schedules = definition.job().schedules();
        var known = new ArrayList<>(calendars.names());
        together.forEach(calendar -> known.add(calendar.name()));
        for (int i = 0; i < schedules.size(); i++) {
            checkCalendar(
                    definition,
                    known,
                    "schedules[" + i + "].calendar",
                    schedules.get(i).days().calendar(),
                    problems);
            checkCalendar(
                    definition,
                    known,
                    "schedules[" + i + "].except",
                    schedules.get(i).days().except(),
                    problems);
        }
    }

    private static void checkCalendar(
            Definition definition, List<String> known, String field, String name, List<Problem> problems) {
        if (!name.isEmpty() && !known.contains(name)) {
            problems.add(problem(definition, field, "there is no calendar '" + name + "'" + Nearest.hint(name, known)));
        }
    }

    private void checkRosters(
            Caller caller, Definition definition, Collection<String> together, List<Problem> problems) {
        var known = new ArrayList<>(rosters.names(caller));
        known.addAll(together);
        List<Schedule> schedules = definition.job().schedules();
        for (int i = 0; i < schedules.size(); i++) {
            String name = schedules.get(i).over();
            if (!name.isEmpty() && !known.contains(name)) {
                problems.add(problem(
                        definition,
                        "schedules[" + i + "].over",
                        "there is no roster '" + name + "'" + Nearest.hint(name, known)));
            }
        }
    }

    private Optional<String> checkTeam(Caller caller, Job job) {
        return teams.complaint(caller, job.team(), Deed.DEFINE_JOBS, "jobs of");
    }

    private static Problem problem(Definition definition, String field, String message) {
        return problem(definition, field, field, message);
    }

    /** @param where the path of the field in the text, where people know it by another name */
    static Problem problem(Definition definition, String field, String where, String message) {
        Problem found = Places.problem(definition.text(), definition.line(), where, message);
        return new Problem(field, found.line(), found.column(), message);
    }
}
