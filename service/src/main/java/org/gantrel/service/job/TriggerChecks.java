package org.gantrel.service.job;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.core.access.Deed;
import org.gantrel.core.access.Role;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.event.EventType;
import org.gantrel.core.event.EventType.About;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.job.Step;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.trigger.CallGuard.Proof;
import org.gantrel.core.trigger.Circle;
import org.gantrel.core.trigger.FileWatch;
import org.gantrel.core.trigger.OpenHours;
import org.gantrel.core.trigger.Trigger;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.job.JobChecks.Together;
import org.gantrel.service.journal.EventRights;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;

/** Checks the triggers of a job: what they listen to, by which credentials, and whether they start one another for ever. */
@Component
class TriggerChecks {

    private static final List<CredentialKind> TOKENS =
            List.of(CredentialKind.HTTP_BEARER, CredentialKind.HTTP_HEADER, CredentialKind.SECRET);

    private final Jobs jobs;
    private final Teams teams;
    private final Calendars calendars;
    private final Credentials credentials;

    TriggerChecks(Jobs jobs, Teams teams, Calendars calendars, Credentials credentials) {
        this.jobs = jobs;
        this.teams = teams;
        this.calendars = calendars;
        this.credentials = credentials;
    }

    /** What is wrong with them. */
    List<Problem> problems(Caller caller, Definition definition, Together beside) {
        var problems = new ArrayList<Problem>();
        Job job = definition.job();
        for (int i = 0; i < job.triggers().size(); i++) {
            new One(caller, definition, beside, job.triggers().get(i), "triggers[" + i + "].", problems).check();
        }
        expected(caller, definition).ifPresent(problems::add);
        circle(job, beside)
                .ifPresent(way -> problems.add(JobChecks.problem(
                        definition,
                        "triggers",
                        "triggers",
                        "start one another without end: " + way + "; 'ends' or 'when' on one of them would end it")));
        return problems;
    }

    /** What is wrong with the host on which a job expects something to come. */
    private Optional<Problem> expected(Caller caller, Definition definition) {
        Job job = definition.job();
        return job.rules()
                .expect()
                .arrivals()
                .map(FileWatch::host)
                .filter(host -> !host.isEmpty())
                .flatMap(host -> credentials.complaint(caller, host, job.team(), job.name()))
                .map(message -> JobChecks.problem(definition, "expect.arrivals.host", "expect.arrivals.host", message));
    }

    private final class One {
        private final Caller caller;
        private final Definition definition;
        private final Together beside;
        private final Trigger trigger;
        private final String at;
        private final List<Problem> problems;

        private One(
                Caller caller,
                Definition definition,
                Together beside,
                Trigger trigger,
                String at,
                List<Problem> problems) {
            this.caller = caller;
            this.definition = definition;
            this.beside = beside;
            this.trigger = trigger;
            this.at = at;
            this.problems = problems;
        }

        private void complain(String key, String message) {
            problems.add(JobChecks.problem(definition, at + key, at + key, message));
        }

        private void check() {
            if (trigger.on().about() == About.INSTALLATION && !caller.administrator()) {
                complain(
                        "on",
                        trigger.on().word() + " tells of the whole installation; an " + Role.ADMINISTRATOR.word()
                                + " may save a job that waits for it");
            }
            trigger.scope().jobs().stream()
                    .filter(name -> !JobScope.isPattern(name))
                    .forEach(this::job);
            trigger.scope().teams().forEach(this::team);
            trigger.hours()
                    .map(OpenHours::calendar)
                    .filter(name -> !name.isEmpty())
                    .ifPresent(this::calendar);
            trigger.source().files().ifPresent(files -> {
                if (!files.host().isEmpty()) {
                    credential("host", files.host(), List.of(CredentialKind.SSH));
                }
            });
            trigger.source()
                    .calls()
                    .ifPresent(calls -> credential(
                            calls.proof() == Proof.TOKEN ? "token" : "signature", calls.credential(), TOKENS));
            trigger.source()
                    .rows()
                    .ifPresent(rows -> credential("acts-as", rows.credential(), List.of(CredentialKind.DATABASE)));
        }

        /** Who listens to a job learns of its runs, so it is for those who may see them. */
        private void job(String name) {
            Optional<Job> of = beside.jobs().stream()
                    .map(Definition::job)
                    .filter(job -> job.name().equals(name))
                    .findFirst()
                    .or(() -> jobs.named(name)
                            .filter(known -> !known.isRetired() && caller.may(Deed.SEE_RUNS, known.team()))
                            .map(jobs::current));
            if (of.isEmpty()) {
                var known = new ArrayList<>(
                        jobs.all(caller).stream().map(JobEntry::name).toList());
                beside.jobs().forEach(other -> known.add(other.job().name()));
                complain("of", "there is no job '" + name + "'" + Nearest.hint(name, known));
            } else if (!trigger.step().isEmpty()) {
                List<String> steps = of.get() instanceof Job.Chain chain
                        ? chain.steps().stream().map(Step::name).toList()
                        : List.of();
                if (!steps.contains(trigger.step())) {
                    complain(
                            "step",
                            name + " has no step '" + trigger.step() + "'" + Nearest.hint(trigger.step(), steps));
                }
            }
        }

        /** What somebody has to be allowed to see of a team who listens to it. */
        private Deed deed() {
            return EventRights.of(trigger.on().type());
        }

        private void team(String name) {
            if (name.equals(JobScope.ANY)) {
                if (!caller.administrator()) {
                    complain("teams", "an " + Role.ADMINISTRATOR.word() + " may save a job that listens to all teams");
                }
            } else if (teams.named(name).isEmpty() || !caller.may(deed(), name)) {
                complain("teams", teams.none(caller, name));
            }
        }

        private void calendar(String name) {
            var known = new ArrayList<>(calendars.names());
            beside.calendars().forEach(calendar -> known.add(calendar.name()));
            if (!known.contains(name)) {
                complain("hours.calendar", "there is no calendar '" + name + "'" + Nearest.hint(name, known));
            }
        }

        private void credential(String key, String name, List<CredentialKind> kinds) {
            Job job = definition.job();
            Optional<String> complaint = credentials.complaint(caller, name, job.team(), job.name());
            complaint.ifPresent(message -> complain(key, message));
            if (complaint.isEmpty()) {
                credentials
                        .shown(name)
                        .filter(found -> !kinds.contains(found.kind()))
                        .ifPresent(found -> complain(
                                key,
                                name + " is of the kind " + found.kind().word() + "; here it is one of "
                                        + String.join(
                                                ", ",
                                                kinds.stream()
                                                        .map(CredentialKind::word)
                                                        .toList())));
            }
        }
    }

    /** The way from a job back to itself over triggers that nothing holds back. */
    private Optional<String> circle(Job job, Together beside) {
        if (job.triggers().stream().noneMatch(TriggerChecks::isUnchecked)) {
            return Optional.empty();
        }
        Map<String, Job> all = new HashMap<>();
        jobs.allEver().stream()
                .filter(entry -> !entry.isRetired())
                .forEach(entry -> all.put(entry.name(), jobs.current(entry)));
        beside.jobs().forEach(other -> all.put(other.job().name(), other.job()));
        all.put(job.name(), job);
        Map<String, Set<String>> starts = new HashMap<>();
        all.values().forEach(each -> each.triggers().stream()
                .filter(TriggerChecks::isUnchecked)
                .flatMap(trigger -> trigger.scope().jobs().stream())
                .forEach(of ->
                        starts.computeIfAbsent(of, key -> new LinkedHashSet<>()).add(each.name())));
        List<String> way = Circle.of(job.name(), starts);
        return way.isEmpty() ? Optional.empty() : Optional.of(String.join(" starts ", way));
    }

    /** Whether it starts its job whatever comes. */
    private static boolean isUnchecked(Trigger trigger) {
        return trigger.on() == EventType.RUN_ENDED
                && trigger.ends().isEmpty()
                && trigger.when().isEmpty();
    }
}
