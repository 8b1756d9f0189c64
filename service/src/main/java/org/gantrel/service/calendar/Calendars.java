package org.gantrel.service.calendar;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.function.Function;
import org.gantrel.core.access.Deed;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.definition.CalendarDefinition;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.Places;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.cache.CommittedCache;
import org.gantrel.service.change.Changes;
import org.gantrel.service.change.Revision;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** The calendars and their revisions. Every team sees all of them; the team that owns one changes it. */
@Component
@Transactional
public class Calendars {

    private final CalendarStore store;
    private final CalendarRevisionStore revisions;
    private final Teams teams;
    private final Changes changes;
    private final Journal journal;
    private final ApplicationEventPublisher followers;
    private final Clock clock;
    /** What was worked out of the latest revisions; a change of any of them begins anew, since they build on each other. */
    private final CommittedCache<String, CalendarDays> workedOut = new CommittedCache<>(5_000);

    Calendars(
            CalendarStore store,
            CalendarRevisionStore revisions,
            Teams teams,
            Changes changes,
            Journal journal,
            ApplicationEventPublisher followers,
            Clock clock) {
        this.store = store;
        this.revisions = revisions;
        this.teams = teams;
        this.changes = changes;
        this.journal = journal;
        this.followers = followers;
        this.clock = clock;
    }

    @Transactional(readOnly = true)
    public List<String> names() {
        return store.inUse().stream().map(CalendarRecord::name).toList();
    }

    @Transactional(readOnly = true)
    List<CalendarRecord> inUse() {
        return store.inUse();
    }

    /** A calendar by its name; every team sees all of them. */
    @Transactional(readOnly = true)
    CalendarRecord shown(String name) {
        return store.named(name)
                .orElseThrow(
                        () -> Refusal.notFound("there is no calendar '" + name + "'" + Nearest.hint(name, names())));
    }

    /** The days of a calendar as of its latest revision; one that is out of use keeps its days. */
    @Transactional(readOnly = true)
    public Optional<CalendarDays> days(String name) {
        return Optional.ofNullable(workedOut.get(name, key -> store.named(key)
                .map(record ->
                        new CalendarDays(calendar(record), other -> days(other).orElseThrow()))
                .orElse(null)));
    }

    Calendar calendar(CalendarRecord record) {
        return DefinitionReader.readKeptCalendar(text(record));
    }

    String text(CalendarRecord record) {
        return latest(record).definition();
    }

    CalendarRevision latest(CalendarRecord record) {
        return revisions
                .findByCalendarIdAndRevision(record.id(), record.revision())
                .orElseThrow();
    }

    List<CalendarRevision> revisions(CalendarRecord record) {
        return revisions.findTop100ByCalendarIdOrderByRevisionDesc(record.id());
    }

    /** The definition that a calendar has now; nothing where there is none in use. */
    @Transactional(readOnly = true)
    public Optional<String> currentText(String name) {
        return store.named(name).filter(record -> !record.isRetired()).map(this::text);
    }

    /** The latest change of a calendar where it was changed after an instant. */
    @Transactional(readOnly = true)
    public Optional<Revision.View> changedAfter(String name, Instant at) {
        return store.named(name).map(this::latest).map(Revision::view).filter(change -> change.madeAt()
                .isAfter(at));
    }

    /** The revision that a calendar would get. */
    @Transactional(readOnly = true)
    public int nextRevision(String name) {
        return store.named(name).map(CalendarRecord::revision).orElse(0) + 1;
    }

    /**
     * What the days would be if some calendars were defined so: those and all that build on them by their names.
     */
    @Transactional(readOnly = true)
    public Function<String, Optional<CalendarDays>> asIf(Collection<Calendar> defined) {
        var made = new ConcurrentHashMap<String, CalendarDays>();
        return new Function<>() {
            @Override
            public Optional<CalendarDays> apply(String name) {
                CalendarDays known = made.get(name);
                if (known != null) {
                    return Optional.of(known);
                }
                Optional<Calendar> calendar = defined.stream()
                        .filter(each -> each.name().equals(name))
                        .findFirst()
                        .or(() -> store.named(name).map(Calendars.this::calendar));
                calendar.ifPresent(found -> made.put(
                        name, new CalendarDays(found, other -> apply(other).orElseThrow())));
                return Optional.ofNullable(made.get(name));
            }
        };
    }

    /** What speaks against a definition beyond its own text: its team, rights, other calendars, circles. */
    @Transactional(readOnly = true)
    public List<Problem> problems(Caller caller, CalendarDefinition definition, Collection<Calendar> together) {
        Calendar calendar = definition.calendar();
        var problems = new ArrayList<Problem>();
        teams.complaint(caller, calendar.team(), Deed.DEFINE_CALENDARS, "calendars of")
                .ifPresent(complaint -> problems.add(problem(definition, "team", complaint)));
        store.named(calendar.name())
                .filter(known -> !caller.may(Deed.DEFINE_CALENDARS, known.team().name()))
                .ifPresent(known -> problems.add(problem(
                        definition,
                        "calendar",
                        "the name '" + calendar.name() + "' is taken by a calendar you may not change")));
        var known = new LinkedHashSet<>(names());
        together.forEach(other -> known.add(other.name()));
        for (String other : calendar.others()) {
            if (!known.contains(other)) {
                problems.add(problem(
                        definition,
                        calendar.except().contains(other) ? "except" : "days",
                        "there is no calendar '" + other + "'" + Nearest.hint(other, known)));
            }
        }
        if (problems.isEmpty()) {
            circle(calendar, together)
                    .ifPresent(circle -> problems.add(problem(
                            definition,
                            "",
                            "the calendars would be made of each other: " + String.join(", then ", circle))));
        }
        return problems;
    }

    private Optional<List<String>> circle(Calendar begin, Collection<Calendar> together) {
        return circle(begin, begin.name(), together, new LinkedHashSet<>());
    }

    private Optional<List<String>> circle(Calendar at, String goal, Collection<Calendar> together, Set<String> path) {
        path.add(at.name());
        for (String other : at.others()) {
            if (other.equals(goal)) {
                var circle = new ArrayList<>(path);
                circle.add(goal);
                return Optional.of(circle);
            }
            Optional<Calendar> next = together.stream()
                    .filter(each -> each.name().equals(other))
                    .findFirst()
                    .or(() -> store.named(other).map(this::calendar));
            if (next.isPresent() && !path.contains(other)) {
                Optional<List<String>> found = circle(next.get(), goal, together, path);
                if (found.isPresent()) {
                    return found;
                }
            }
        }
        path.remove(at.name());
        return Optional.empty();
    }

    /** Makes a calendar, or gives it a new revision. Its problems were looked for before. */
    public CalendarRecord save(Caller caller, CalendarDefinition definition) {
        Calendar calendar = definition.calendar();
        Team team = teams.named(calendar.team()).orElseThrow();
        caller.require(Deed.DEFINE_CALENDARS, team.name());
        Optional<CalendarRecord> known = store.named(calendar.name());
        known.ifPresent(
                record -> caller.require(Deed.DEFINE_CALENDARS, record.team().name()));
        CalendarRecord record = known.orElseGet(() -> new CalendarRecord(calendar.name()));
        record.revise(calendar, team);
        store.save(record);
        revisions.save(new CalendarRevision(record, definition.text(), caller.name(), clock.instant()));
        changes.record(
                caller,
                known.isPresent() ? "changed" : "created",
                "calendar",
                record.name(),
                team.name(),
                "revision " + record.revision());
        changed(record);
        return record;
    }

    /** A calendar that a caller may change; rights come before everything else. */
    CalendarRecord requireKept(Caller caller, String name) {
        CalendarRecord record = shown(name);
        caller.require(Deed.DEFINE_CALENDARS, record.team().name());
        return record;
    }

    /** Takes a calendar out of use. */
    public void retire(Caller caller, String name) {
        CalendarRecord record = requireKept(caller, name);
        List<String> users = store.inUse().stream()
                .filter(other -> calendar(other).others().contains(name))
                .map(CalendarRecord::name)
                .toList();
        if (!users.isEmpty()) {
            throw Refusal.conflict("the calendar " + name + " is a part of " + String.join(", ", users));
        }
        record.retire();
        changes.record(caller, "retired", "calendar", name, record.team().name(), "");
        changed(record);
    }

    private void changed(CalendarRecord record) {
        workedOut.changedAll();
        followers.publishEvent(new CalendarSaved(record.name()));
        journal.write(
                "gantrel.calendar.changed",
                record.team().name(),
                Map.of("calendar", record.name(), "name", record.name(), "what", "changed"));
    }

    private static Problem problem(CalendarDefinition definition, String field, String message) {
        return Places.problem(definition.text(), definition.line(), field, message);
    }
}
