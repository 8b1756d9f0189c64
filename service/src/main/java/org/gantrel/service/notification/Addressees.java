package org.gantrel.service.notification;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.notification.Happening;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.gantrel.core.notification.Receiver;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Person;
import org.gantrel.service.team.Teams;
import org.gantrel.service.telling.Tellings;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Finds out who it is in person that a rule tells, how they are reached, and when they may be disturbed. */
@Component
@Transactional(readOnly = true)
class Addressees {

    /** The rule that a job has by its {@code notify} key. */
    static final String BY_JOB = "@notify";

    private static final Set<Happening> OF_NOTIFY = Set.of(Happening.FAILED, Happening.TIMED_OUT, Happening.RECOVERED);

    /**
     * One who is told.
     *
     * @param person the name of the account; empty for an address alone
     * @param mail the address; empty where none is known
     */
    record Addressee(String person, String mail) {
        String shown() {
            return person.isEmpty() ? mail : person + (mail.isEmpty() ? "" : " <" + mail + ">");
        }
    }

    private final Tellings tellings;
    private final Teams teams;
    private final Calendars calendars;
    private final PersonSayStore says;
    private final PersonInterestStore interests;
    private final Clock clock;

    Addressees(
            Tellings tellings,
            Teams teams,
            Calendars calendars,
            PersonSayStore says,
            PersonInterestStore interests,
            Clock clock) {
        this.tellings = tellings;
        this.teams = teams;
        this.calendars = calendars;
        this.says = says;
        this.interests = interests;
        this.clock = clock;
    }

    /** All rules that could concern a job: its own, those of who follow it, and those that are defined. */
    List<NotificationRule> rules(Job job) {
        var rules = new ArrayList<NotificationRule>();
        var own = new JobScope(List.of(job.name()), List.of(), List.of(job.team()));
        if (!job.mailOnFailure().isEmpty()) {
            List<Receiver> to = job.mailOnFailure().stream()
                    .distinct()
                    .map(address -> (Receiver) new Receiver.Address(address))
                    .toList();
            rules.add(rule(BY_JOB, job, own, OF_NOTIFY, to));
        }
        for (PersonInterest interest : interests.findByJob(job.name())) {
            boolean sees = teams.callerNamed(interest.person())
                    .filter(caller -> caller.may(Deed.SEE_RUNS, job.team()))
                    .isPresent();
            if (sees && interest.follows() && interest.holdsAt(clock.instant())) {
                List<Receiver> to = List.of(new Receiver.Person(interest.person()));
                rules.add(rule("@" + interest.person(), job, own, Happening.USUAL, to));
            }
        }
        tellings.rules().stream()
                .filter(rule -> rule.scope().isFor(job, rule.team()))
                .forEach(rules::add);
        return rules;
    }

    private static NotificationRule rule(String name, Job job, JobScope own, Set<Happening> tells, List<Receiver> to) {
        return new NotificationRule(
                name,
                job.team(),
                "",
                own,
                tells,
                1,
                "",
                to,
                NotificationRule.MAIL,
                Urgency.USUAL,
                Optional.empty(),
                List.of(),
                "",
                List.of());
    }

    /**
     * Who is told, each once. Who has muted the job, or has no account any more, is not.
     *
     * @param starter who started the run; empty where no person did
     */
    List<Addressee> of(Collection<Receiver> receivers, Job job, String starter, Instant at) {
        Set<String> muted = interests.findByJob(job.name()).stream()
                .filter(interest -> !interest.follows() && interest.holdsAt(at))
                .map(PersonInterest::person)
                .collect(Collectors.toSet());
        Map<String, Addressee> found = new LinkedHashMap<>();
        for (Receiver receiver : receivers) {
            if (receiver instanceof Receiver.Address address) {
                found.putIfAbsent(address.address(), new Addressee("", address.address()));
            } else {
                people(receiver, job.concern().owner(), starter, at).stream()
                        .filter(name -> !muted.contains(name))
                        .forEach(name -> found.putIfAbsent("@" + name, person(name)));
            }
        }
        return List.copyOf(found.values());
    }

    /** Who gets what is about no job, such as a digest, each once. */
    List<Addressee> of(Collection<Receiver> receivers, Instant at) {
        // nobody owns or started what belongs to no job
        Map<String, Addressee> found = new LinkedHashMap<>();
        for (Receiver receiver : receivers) {
            if (receiver instanceof Receiver.Address address) {
                found.putIfAbsent(address.address(), new Addressee("", address.address()));
            } else {
                people(receiver, "", "", at).forEach(name -> found.putIfAbsent("@" + name, person(name)));
            }
        }
        return List.copyOf(found.values());
    }

    private List<String> people(Receiver receiver, String owner, String starter, Instant at) {
        if (receiver instanceof Receiver.Team people) {
            return teams
                    .named(people.name())
                    .map(team -> teams.peopleOf(team, people.role()))
                    .orElse(List.of())
                    .stream()
                    .map(Person::name)
                    .toList();
        }
        String name = "";
        if (receiver instanceof Receiver.Owner) {
            name = owner;
        } else if (receiver instanceof Receiver.Starter) {
            name = starter;
        } else if (receiver instanceof Receiver.Person person) {
            name = person.name();
        } else if (receiver instanceof Receiver.Duty duty) {
            name = tellings.duty(duty.list()).flatMap(list -> list.at(at)).orElse("");
        }
        return teams.person(name).filter(person -> !person.isShut()).isPresent() ? List.of(name) : List.of();
    }

    private Addressee person(String name) {
        return new Addressee(name, says.findById(name).map(PersonSay::mail).orElse(""));
    }

    /** Whether a person may know more than that something is wrong: values, logs and reasons of a team's runs. */
    boolean maySee(Addressee who, String team) {
        return who.person().isEmpty()
                || teams.callerNamed(who.person())
                        .filter(caller -> caller.may(Deed.SEE_RUNS, team))
                        .isPresent();
    }

    /** When a person may be told of something that comes up now. */
    Instant release(Addressee who, Urgency urgency, Instant now) {
        return says.findById(who.person())
                .map(say -> say.quiet().release(now, urgency, working(say.calendar())))
                .orElse(now);
    }

    Predicate<LocalDate> working(String calendar) {
        return calendars
                .days(calendar)
                .map(days -> (Predicate<LocalDate>) day -> days.holds(day.toEpochDay()))
                .orElse(day -> true);
    }

    /** Who calls, by their name. */
    Optional<Caller> caller(String person) {
        return teams.callerNamed(person);
    }
}
