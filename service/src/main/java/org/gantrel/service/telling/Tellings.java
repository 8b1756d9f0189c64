package org.gantrel.service.telling;

import java.time.Clock;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.definition.DefinitionEdit;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.Places;
import org.gantrel.core.definition.TellingDefinition;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.notification.Channel;
import org.gantrel.core.notification.Digest;
import org.gantrel.core.notification.DutyList;
import org.gantrel.core.notification.NotificationRule;
import org.gantrel.core.notification.Receiver;
import org.gantrel.core.notification.Telling;
import org.gantrel.core.notification.Wording;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.change.Changes;
import org.gantrel.service.change.Revision;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Person;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The rules, duty lists and channels that say who is told of what. */
@Component
@Transactional
public class Tellings {

    /** One of them as it is now. */
    public record Current(Telling telling, int revision, String text) {}

    private final TellingStore store;
    private final TellingRevisionStore revisions;
    private final Teams teams;
    private final Credentials credentials;
    private final Calendars calendars;
    private final Changes changes;
    private final Journal journal;
    private final Clock clock;
    private final CommittedCache<String, List<Current>> read = new CommittedCache<>(1);

    Tellings(
            TellingStore store,
            TellingRevisionStore revisions,
            Teams teams,
            Credentials credentials,
            Calendars calendars,
            Changes changes,
            Journal journal,
            Clock clock) {
        this.store = store;
        this.revisions = revisions;
        this.teams = teams;
        this.credentials = credentials;
        this.calendars = calendars;
        this.changes = changes;
        this.journal = journal;
        this.clock = clock;
    }

    /** All that are in use, by kind and name. They are asked for at every end of a run, so they are kept. */
    @Transactional(readOnly = true)
    public List<Current> all() {
        return read.get("", key -> revisions.inUse().stream()
                .map(kept -> new Current(
                        DefinitionReader.readKeptTelling(kept.definition()), kept.revision(), kept.definition()))
                .toList());
    }

    private String text(TellingRecord record) {
        return revisions
                .findByTellingIdAndRevision(record.id(), record.revision())
                .orElseThrow()
                .definition();
    }

    @Transactional(readOnly = true)
    public List<NotificationRule> rules() {
        return of(NotificationRule.class).toList();
    }

    @Transactional(readOnly = true)
    public List<Digest> digests() {
        return of(Digest.class).toList();
    }

    @Transactional(readOnly = true)
    public Optional<DutyList> duty(String name) {
        return of(DutyList.class).filter(list -> list.name().equals(name)).findFirst();
    }

    @Transactional(readOnly = true)
    public Optional<Channel> channel(String name) {
        return of(Channel.class).filter(channel -> channel.name().equals(name)).findFirst();
    }

    @Transactional(readOnly = true)
    public Optional<Wording> wording(String name) {
        return of(Wording.class).filter(wording -> wording.name().equals(name)).findFirst();
    }

    private <T extends Telling> Stream<T> of(Class<T> kind) {
        return all().stream().map(Current::telling).filter(kind::isInstance).map(kind::cast);
    }

    @Transactional(readOnly = true)
    public List<Current> visible(Caller caller) {
        return all().stream()
                .filter(each -> caller.may(Deed.SEE_JOBS, each.telling().team()))
                .toList();
    }

    /**
     * One that a caller may see.
     *
     * @throws Refusal where there is none; it offers the nearest name
     */
    @Transactional(readOnly = true)
    public Current visible(Caller caller, String kind, String name) {
        List<Current> known = visible(caller).stream()
                .filter(each -> each.telling().kind().equals(kind))
                .toList();
        return known.stream()
                .filter(each -> each.telling().name().equals(name))
                .findFirst()
                .orElseThrow(() -> Refusal.notFound("there is no " + kind + " '" + brief(name) + "'"
                        + Nearest.hint(
                                name,
                                known.stream()
                                        .map(each -> each.telling().name())
                                        .toList())));
    }

    private static String brief(String name) {
        return name.length() <= 60 ? name : name.substring(0, 60) + "...";
    }

    /** What it was from one change to the next, the latest first. */
    @Transactional(readOnly = true)
    public List<Revision.View> revisions(Caller caller, String kind, String name) {
        visible(caller, kind, name);
        return store.findByKindAndName(kind, name)
                .map(record -> revisions.findByTellingIdOrderByRevisionDesc(record.id()).stream()
                        .map(Revision::view)
                        .toList())
                .orElse(List.of());
    }

    /** Who made the latest revision. */
    @Transactional(readOnly = true)
    public String changedBy(String kind, String name) {
        return store.findByKindAndName(kind, name)
                .flatMap(record -> revisions.findByTellingIdAndRevision(record.id(), record.revision()))
                .map(TellingRevision::madeBy)
                .orElse("");
    }

    /** The definition that one has now; nothing where there is none in use. */
    @Transactional(readOnly = true)
    public Optional<String> currentText(String kind, String name) {
        return store.findByKindAndName(kind, name)
                .filter(record -> !record.isRetired())
                .map(this::text);
    }

    /** The latest revision; 0 where there never was one. */
    @Transactional(readOnly = true)
    public int revision(String kind, String name) {
        return store.findByKindAndName(kind, name).map(TellingRecord::revision).orElse(0);
    }

    /**
     * What speaks against a definition beyond its own text.
     *
     * @param beside what is brought in together with it
     */
    @Transactional(readOnly = true)
    public List<Problem> problems(Caller caller, TellingDefinition definition, Collection<Telling> beside) {
        return new Checks(caller, definition, beside).all();
    }

    /** What is said of a definition that is right: nobody would hear of it. */
    @Transactional(readOnly = true)
    public List<String> warnings(Telling telling) {
        var warnings = new ArrayList<String>();
        if (telling instanceof NotificationRule rule && rule.by().equals(NotificationRule.MAIL)) {
            for (Receiver receiver : rule.to()) {
                if (receiver instanceof Receiver.Team people
                        && teams.named(people.name())
                                .map(team -> teams.peopleOf(team, people.role()).isEmpty())
                                .orElse(false)) {
                    warnings.add("nobody is " + people.role().word() + " of " + people.name()
                            + " or more, so nobody there would hear of it");
                }
            }
        }
        return warnings;
    }

    /** All that is wrong with one definition. */
    private final class Checks {
        private final Caller caller;
        private final TellingDefinition definition;
        private final Telling telling;
        private final Collection<Telling> beside;
        private final List<Problem> problems = new ArrayList<>();

        private Checks(Caller caller, TellingDefinition definition, Collection<Telling> beside) {
            this.caller = caller;
            this.definition = definition;
            this.telling = definition.telling();
            this.beside = beside;
        }

        private void complain(String field, String message) {
            problems.add(Places.problem(definition.text(), definition.line(), field, message));
        }

        private List<Problem> all() {
            team();
            store.findByKindAndName(telling.kind(), telling.name())
                    .filter(record ->
                            !caller.may(Deed.DEFINE_JOBS, record.team().name()))
                    .ifPresent(record -> complain(
                            telling.kind(), "the name '" + telling.name() + "' is taken by one you may not change"));
            if (telling instanceof NotificationRule rule) {
                rule(rule);
            } else if (telling instanceof Digest digest) {
                digest.to().forEach(receiver -> receiver("to", receiver));
                scope(digest.scope());
                if (!digest.calendar().isEmpty()
                        && calendars.days(digest.calendar()).isEmpty()) {
                    complain(
                            "calendar",
                            "there is no calendar '" + digest.calendar() + "'"
                                    + Nearest.hint(digest.calendar(), calendars.names()));
                }
            } else if (telling instanceof DutyList duty) {
                duty.turns().forEach(person -> person("turns", person));
                duty.covers().forEach(cover -> person("covers", cover.person()));
            } else if (telling instanceof Channel channel) {
                channel.teams().forEach(team -> knownTeam("for-teams", team));
                String wrong = Mustaches.complaint(channel.body());
                if (!wrong.isEmpty()) {
                    complain("body", "is no template: " + wrong + "; {{subject}} and {{sentence}} are values");
                }
                credential("acts-as", channel.actsAs());
                credential("signed-with", channel.signedWith());
                if (!channel.command().isEmpty()) {
                    account(channel.actsAs());
                }
            } else if (telling instanceof Wording wording) {
                template("subject", wording.subject());
                template("text", wording.text());
            }
            return problems;
        }

        private void template(String field, String template) {
            Mustaches.complaints(template, Wordings.NAMES).forEach(wrong -> complain(field, wrong));
        }

        private void team() {
            teams.complaint(caller, telling.team(), Deed.DEFINE_JOBS, "it for")
                    .ifPresent(complaint -> complain("team", complaint));
        }

        private void rule(NotificationRule rule) {
            rule.to().forEach(receiver -> receiver("to", receiver));
            rule.then().forEach(step -> step.to().forEach(receiver -> receiver("then", receiver)));
            scope(rule.scope());
            if (!rule.worded().isEmpty()) {
                List<String> names = Stream.concat(known(), beside.stream())
                        .filter(each -> each instanceof Wording && each.team().equals(rule.team()))
                        .map(Telling::name)
                        .toList();
                if (!names.contains(rule.worded())) {
                    complain(
                            "worded",
                            "there is no wording '" + rule.worded() + "' of the team " + rule.team()
                                    + Nearest.hint(rule.worded(), names));
                }
            }
            if (!rule.by().equals(NotificationRule.MAIL)) {
                Optional<Channel> channel =
                        channels().filter(each -> each.name().equals(rule.by())).findFirst();
                if (channel.filter(each -> each.isFor(rule.team())).isEmpty()) {
                    List<String> names = Stream.concat(
                                    Stream.of(NotificationRule.MAIL),
                                    channels()
                                            .filter(each -> each.isFor(rule.team()))
                                            .map(Channel::name))
                            .toList();
                    complain(
                            "by",
                            "there is no channel '" + rule.by() + "' for the team " + rule.team() + "; there are "
                                    + String.join(", ", names) + Nearest.hint(rule.by(), names));
                }
            }
        }

        private void scope(JobScope scope) {
            scope.teams().forEach(team -> {
                knownTeam("for.teams", team);
                if (teams.named(team).isPresent() && !caller.may(Deed.SEE_RUNS, team)) {
                    complain("for.teams", "you may not see the runs of the team " + team);
                }
            });
        }

        private Stream<Channel> channels() {
            return Stream.concat(known(), beside.stream())
                    .filter(Channel.class::isInstance)
                    .map(Channel.class::cast);
        }

        private Stream<Telling> known() {
            return Tellings.this.all().stream().map(Current::telling);
        }

        private void receiver(String field, Receiver receiver) {
            if (receiver instanceof Receiver.Person person) {
                person(field, person.name());
            } else if (receiver instanceof Receiver.Team team) {
                knownTeam(field, team.name());
            } else if (receiver instanceof Receiver.Duty duty) {
                List<String> names = Stream.concat(known(), beside.stream())
                        .filter(DutyList.class::isInstance)
                        .map(Telling::name)
                        .toList();
                if (!names.contains(duty.list())) {
                    complain(field, "there is no duty list '" + duty.list() + "'" + Nearest.hint(duty.list(), names));
                }
            }
        }

        private void person(String field, String name) {
            if (teams.person(name).filter(person -> !person.isShut()).isEmpty()) {
                List<String> names =
                        teams.colleagues(caller).stream().map(Person::name).toList();
                complain(field, "there is nobody called '" + name + "'" + Nearest.hint(name, names));
            }
        }

        private void knownTeam(String field, String name) {
            if (teams.named(name).isEmpty()) {
                complain(field, teams.none(caller, name));
            }
        }

        private void account(String name) {
            credentials
                    .shown(name)
                    .filter(credential -> credential.kind() != CredentialKind.ACCOUNT)
                    .ifPresent(credential -> complain(
                            "acts-as",
                            "no command of this host can act as '" + name + "', which is of the kind "
                                    + credential.kind().word() + "; it must be account"));
        }

        private void credential(String field, String name) {
            if (!name.isEmpty()) {
                credentials.complaint(caller, name, telling.team(), "").ifPresent(message -> complain(field, message));
            }
        }
    }

    /** Makes one, or gives it a new revision. */
    public Current save(Caller caller, TellingDefinition definition) {
        caller.require(Deed.DEFINE_JOBS, definition.telling().team());
        return write(caller, definition);
    }

    /**
     * Has more people stand in on a duty list. Whoever may define it may say so of anybody, and everybody else in the team of
     * themselves.
     */
    public Current cover(Caller caller, Current current, List<DutyList.Cover> more) {
        boolean own = more.stream().allMatch(cover -> cover.person().equals(caller.name()));
        caller.require(own ? Deed.SEE_RUNS : Deed.DEFINE_JOBS, current.telling().team());
        TellingDefinition definition = DefinitionReader.readTelling(DefinitionEdit.withCovers(current.text(), more));
        List<Problem> problems = caller.may(Deed.DEFINE_JOBS, current.telling().team())
                ? problems(caller, definition, List.of())
                : List.of();
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return write(caller, definition);
    }

    private Current write(Caller caller, TellingDefinition definition) {
        Telling telling = definition.telling();
        Team team = teams.named(telling.team()).orElseThrow();
        Optional<TellingRecord> known = store.findByKindAndName(telling.kind(), telling.name());
        TellingRecord record = known.orElseGet(() -> new TellingRecord(telling.kind(), telling.name()));
        record.revise(team);
        store.saveAndFlush(record);
        revisions.save(new TellingRevision(record, definition.text(), caller.name(), clock.instant()));
        changed(caller, record, known.isPresent() ? "changed" : "created", "revision " + record.revision());
        return new Current(telling, record.revision(), definition.text());
    }

    /** Takes one out of use that no rule needs. */
    public void retire(Caller caller, String kind, String name) {
        Telling telling = visible(caller, kind, name).telling();
        caller.require(Deed.DEFINE_JOBS, telling.team());
        List<String> needing = rules().stream()
                .filter(rule -> needs(rule, telling))
                .map(NotificationRule::name)
                .toList();
        if (!needing.isEmpty()) {
            throw Refusal.conflict("the " + kind + " " + name + " is needed by " + String.join(", ", needing)
                    + "; take it out of their definitions first");
        }
        TellingRecord record = store.findByKindAndName(kind, name).orElseThrow();
        record.retire();
        changed(caller, record, "retired", "");
    }

    private static boolean needs(NotificationRule rule, Telling telling) {
        if (telling instanceof Channel channel) {
            return rule.by().equals(channel.name());
        }
        if (telling instanceof Wording wording) {
            return rule.worded().equals(wording.name());
        }
        return telling instanceof DutyList list
                && Stream.concat(rule.to().stream(), rule.then().stream().flatMap(step -> step.to().stream()))
                        .anyMatch(receiver -> receiver.equals(new Receiver.Duty(list.name())));
    }

    private void changed(Caller caller, TellingRecord record, String what, String details) {
        read.changedAll();
        changes.record(caller, what, record.kind(), record.name(), record.team().name(), details);
        journal.write(
                "gantrel." + record.kind() + ".changed",
                record.team().name(),
                Map.of("name", record.name(), "what", what));
    }
}
