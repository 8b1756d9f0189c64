package org.gantrel.service.team;

import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Clock;
import java.time.Duration;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.access.Role;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Retention;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Words;
import org.gantrel.service.refusal.Refusal;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Teams, people and who belongs where. */
@Component
@Transactional
public class Teams implements Callers {

    /** What names of people look like. */
    private static final String PERSON_NAME = "[a-z][a-z0-9]*([.-][a-z0-9]+)*";

    private final TeamStore teams;
    private final PersonStore people;
    private final MembershipStore memberships;
    private final PasswordEncoder passwords;
    private final ChangeLog changes;
    private final ApplicationEventPublisher events;
    private final Clock clock;

    Teams(
            TeamStore teams,
            PersonStore people,
            MembershipStore memberships,
            PasswordEncoder passwords,
            ChangeLog changes,
            ApplicationEventPublisher events,
            Clock clock) {
        this.events = events;
        this.teams = teams;
        this.people = people;
        this.memberships = memberships;
        this.passwords = passwords;
        this.changes = changes;
        this.clock = clock;
    }

    @Transactional(readOnly = true)
    public List<Team> all() {
        return teams.findAllByOrderByName();
    }

    /** The teams whose runs a caller may see. */
    @Transactional(readOnly = true)
    public List<Team> visibleTo(Caller caller) {
        return caller.among(all(), Deed.SEE_RUNS);
    }

    @Transactional(readOnly = true)
    public Optional<Team> named(String name) {
        return teams.findByName(name);
    }

    /**
     * A team that the caller may see.
     *
     * @throws Refusal where there is none
     */
    @Transactional(readOnly = true)
    public Team visible(Caller caller, String name) {
        List<Team> visible = visibleTo(caller);
        return visible.stream()
                .filter(team -> team.name().equals(name))
                .findFirst()
                .orElseThrow(() -> Refusal.notFound(none(caller, name)));
    }

    /** That there is no such team, and what may have been meant. */
    @Transactional(readOnly = true)
    public String none(Caller caller, String name) {
        String hint =
                Nearest.hint(name, visibleTo(caller).stream().map(Team::name).toList());
        boolean mayMakeIt = caller.administrator() && name.matches(Job.NAME);
        return "there is no team '" + name + "'"
                + (hint.isEmpty() && mayMakeIt ? "; 'gantrel team create " + name + "' makes it" : hint);
    }

    /**
     * What speaks against somebody's defining things of a team; nothing where they may. Whoever may not see a team's jobs is not
     * told that there is one.
     *
     * @param things what is defined, such as {@code "jobs of"}
     */
    @Transactional(readOnly = true)
    public Optional<String> complaint(Caller caller, String name, Deed deed, String things) {
        return unknown(caller, name).or(() -> Optional.of("to define " + things + " the team " + name
                        + " takes the role " + deed.least().word() + " there")
                .filter(complaint -> !caller.may(deed, name)));
    }

    /** That somebody knows of no such team, where they do not. */
    @Transactional(readOnly = true)
    public Optional<String> unknown(Caller caller, String name) {
        boolean known = teams.findByName(name).isPresent() && caller.may(Deed.SEE_JOBS, name);
        return known ? Optional.empty() : Optional.of(none(caller, name));
    }

    public Team create(Caller caller, String name, String about) {
        caller.require(Deed.MANAGE_TEAMS);
        checkName("name", name, Job.NAME);
        if (about.length() > 300) {
            throw new InvalidException("about", "too long: " + about.length() + " characters, at most 300");
        }
        if (teams.findByName(name).isPresent()) {
            throw Refusal.conflict("there is a team '" + name + "' already");
        }
        changes.record(caller, "created", "team", name, name, about);
        return teams.save(new Team(name, about.strip()));
    }

    /** Says how long what a team's jobs leave is kept. */
    public Team keep(Caller caller, String name, Retention retention) {
        Team team = visible(caller, name);
        caller.require(Deed.MANAGE_MEMBERS, name);
        team.keep(retention);
        teams.save(team);
        changes.record(
                caller,
                "changed",
                "team",
                name,
                name,
                "keeps runs " + words(retention.runs()) + ", logs " + words(retention.logs()));
        return team;
    }

    /** Lists the folders that a team's jobs may use; none for all that their accounts may. */
    public Team allow(Caller caller, String name, List<String> folders) {
        Team team = visible(caller, name);
        caller.require(Deed.MANAGE_TEAMS);
        var problems = new ArrayList<Problem>();
        for (String folder : folders) {
            boolean right = folder.startsWith("/") && folder.length() <= 1_000 && isPlain(folder);
            if (!right) {
                problems.add(Problem.of("folders", "'" + folder + "': a full path such as /srv/revenue is expected"));
            }
        }
        if (folders.size() > 50) {
            problems.add(Problem.of("folders", "at most 50 can be listed"));
        }
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        team.allow(folders);
        teams.save(team);
        String listed = folders.isEmpty() ? "any folder" : String.join(", ", folders);
        changes.record(caller, "changed", "team", name, name, "its jobs may use " + listed);
        return team;
    }

    private static boolean isPlain(String folder) {
        try {
            return Path.of(folder).normalize().equals(Path.of(folder))
                    && folder.lines().count() == 1;
        } catch (InvalidPathException e) {
            return false;
        }
    }

    private static String words(Optional<Duration> length) {
        return length.map(Words::duration).orElse("as the installation says");
    }

    @Transactional(readOnly = true)
    public List<Person> people(Caller caller) {
        caller.require(Deed.MANAGE_PEOPLE);
        return people.findAllByOrderByName();
    }

    @Transactional(readOnly = true)
    public Optional<Person> person(String name) {
        return people.findByName(name);
    }

    public boolean hasNobody() {
        return people.count() == 0;
    }

    public Person createPerson(Caller caller, String name, String fullName, String password, boolean administrator) {
        caller.require(Deed.MANAGE_PEOPLE);
        checkName("name", name, PERSON_NAME);
        if (name.equals(Caller.service().name())) {
            throw new InvalidException("name", "'" + name + "' is the service itself");
        }
        if (fullName.length() > 120) {
            throw new InvalidException("fullName", "too long: " + fullName.length() + " characters, at most 120");
        }
        PasswordRules.check(password, name, fullName);
        if (people.findByName(name).isPresent()) {
            throw Refusal.conflict("there is an account '" + name + "' already");
        }
        changes.record(caller, "created", "person", name, "", administrator ? "as administrator" : "");
        return people.save(
                new Person(name, fullName.strip(), passwords.encode(password), administrator, clock.instant()));
    }

    /**
     * Makes the first account of a new installation, with a password that whoever installs it has chosen: one that would
     * not do for others is taken, and complained of.
     *
     * @return what is wrong with the password; nothing where nothing is
     */
    public Optional<String> createFirst(String name, String fullName, String password) {
        changes.record(Caller.service(), "created", "person", name, "", "as administrator");
        people.save(new Person(name, fullName, passwords.encode(password), true, clock.instant()));
        return PasswordRules.complaint(password, name, fullName);
    }

    /** Shuts an account or opens it again. */
    public void setShut(Caller caller, String name, boolean shut) {
        caller.require(Deed.MANAGE_PEOPLE);
        if (caller.name().equals(name)) {
            throw Refusal.conflict("nobody can shut their own account");
        }
        if (person(caller.name()).filter(Person::isShut).isPresent()) {
            // by somebody else, since the call began: of two who shut each other, one stays
            throw Refusal.notSignedIn("your account was shut meanwhile");
        }
        Person person = needed(name);
        person.setShut(shut);
        if (shut) {
            events.publishEvent(new AccountChanged(person));
        }
        changes.record(caller, shut ? "shut" : "opened", "person", name, "", "");
    }

    /** Gives an account another password: one's own, or as an administrator anybody's. What it was signed in with ends. */
    public void setPassword(Caller caller, String name, String password) {
        if (!caller.name().equals(name)) {
            caller.require(Deed.MANAGE_PEOPLE);
        }
        Person person = needed(name);
        PasswordRules.check(password, name, person.fullName());
        person.setPasswordHash(passwords.encode(password));
        events.publishEvent(new AccountChanged(person));
        changes.record(caller, "changed the password of", "person", name, "", "");
    }

    /** Makes somebody a member of a team, or changes what a member is. */
    public void setRole(Caller caller, String team, String person, Role role) {
        caller.require(Deed.MANAGE_MEMBERS, team);
        if (!Role.IN_TEAM.contains(role)) {
            throw new InvalidException(
                    "role",
                    Role.IN_TEAM.stream().map(Role::word).collect(Collectors.joining(", "))
                            + " are the roles in a team");
        }
        Team in = visible(caller, team);
        Person member = needed(person);
        memberships
                .findByPersonAndTeam(member, in)
                .ifPresentOrElse(
                        membership -> membership.setRole(role),
                        () -> memberships.save(new Membership(member, in, role)));
        changes.record(caller, "made " + role.word(), "member", person, team, "");
    }

    public void removeMember(Caller caller, String team, String person) {
        caller.require(Deed.MANAGE_MEMBERS, team);
        Membership membership = memberships
                .findByPersonAndTeam(needed(person), visible(caller, team))
                .orElseThrow(() -> Refusal.notFound("'" + person + "' is not in the team '" + team + "'"));
        memberships.delete(membership);
        changes.record(caller, "removed", "member", person, team, "");
    }

    @Transactional(readOnly = true)
    Map<String, Role> members(Team team) {
        var members = new LinkedHashMap<String, Role>();
        memberships
                .ofTeam(team)
                .forEach(membership -> members.put(membership.person().name(), membership.role()));
        return members;
    }

    /** The people of a team from a role on, whose accounts are open. */
    @Transactional(readOnly = true)
    public List<Person> peopleOf(Team team, Role least) {
        return memberships.ofTeam(team).stream()
                .filter(membership -> membership.role().compareTo(least) >= 0)
                .map(Membership::person)
                .filter(person -> !person.isShut())
                .toList();
    }

    /** Those whom a caller knows by a team that they share; an administrator knows all. */
    @Transactional(readOnly = true)
    public List<Person> colleagues(Caller caller) {
        return caller.administrator()
                ? people.findAllByOrderByName()
                : visibleTo(caller).stream()
                        .flatMap(team -> memberships.ofTeam(team).stream())
                        .map(Membership::person)
                        .distinct()
                        .toList();
    }

    /** What a person may do as of now. */
    @Transactional(readOnly = true)
    public Caller caller(Person person) {
        Map<String, Role> roles = memberships.ofPerson(person).stream()
                .collect(Collectors.toMap(membership -> membership.team().name(), Membership::role));
        return new Caller(person.name(), person.fullName(), person.isAdministrator(), roles);
    }

    @Override
    @Transactional(readOnly = true)
    public Optional<Caller> callerNamed(String name) {
        return people.findByName(name).filter(person -> !person.isShut()).map(this::caller);
    }

    private Person needed(String name) {
        return people.findByName(name).orElseThrow(() -> Refusal.notFound("there is no account '" + name + "'"));
    }

    private static void checkName(String field, String name, String pattern) {
        if (name.length() > Job.LONGEST_NAME) {
            throw new InvalidException(
                    field, "too long: " + name.length() + " characters, at most " + Job.LONGEST_NAME);
        }
        if (!name.matches(pattern)) {
            throw new InvalidException(
                    field, "'" + name + "' is no name: lower-case letters, digits and dashes, beginning with a letter");
        }
    }
}
