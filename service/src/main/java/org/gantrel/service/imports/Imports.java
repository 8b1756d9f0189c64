package org.gantrel.service.imports;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.Comparator;
import java.util.Iterator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.Supplier;
import java.util.stream.Stream;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.definition.CalendarDefinition;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.LaneDefinition;
import org.gantrel.core.definition.RosterDefinition;
import org.gantrel.core.definition.TellingDefinition;
import org.gantrel.core.job.Job;
import org.gantrel.core.notification.Telling;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Words;
import org.gantrel.service.calendar.CalendarUse;
import org.gantrel.service.calendar.Calendars;
import org.gantrel.service.change.Origins;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.http.Invalid;
import org.gantrel.service.http.ProblemView.Wrong;
import org.gantrel.service.job.JobChecks;
import org.gantrel.service.job.JobEntry;
import org.gantrel.service.job.JobWarnings;
import org.gantrel.service.job.Jobs;
import org.gantrel.service.lane.Lanes;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.roster.RowUse;
import org.gantrel.service.schedule.ScheduleAdvice;
import org.gantrel.service.team.Caller;
import org.gantrel.service.telling.Tellings;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/** Brings in definition files: all of them, or, where anything is wrong, none. */
@Component
public class Imports {

    private static final int MOST_FILES = 1_000;
    private static final int DAYS_COMPARED = 92;

    /** A definition file; one that says no name has an empty one. */
    public record DefinitionFile(String name, String text) {
        public DefinitionFile {
            name = name == null ? "" : name;
            text = text == null ? "" : text;
        }
    }

    /** What is brought in together. */
    public record ImportBody(List<DefinitionFile> files) {}

    /**
     * What became of one definition, or would become of it.
     *
     * @param action {@code create}, {@code change} or {@code leave}
     * @param revision the revision that the job has then
     * @param schedules what its schedules stand for
     * @param before the definition that would be changed, for a dry run; missing otherwise
     * @param after the definition as it would be, likewise
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record Imported(
            String file,
            String kind,
            String name,
            String team,
            String action,
            int revision,
            List<String> warnings,
            List<ScheduleAdvice.Explained> schedules,
            String before,
            String after) {

        private Imported comparing(String current, String text) {
            return new Imported(file, kind, name, team, action, revision, warnings, schedules, current, text);
        }

        private Imported warning(String said) {
            List<String> more =
                    Stream.concat(warnings.stream(), Stream.of(said)).toList();
            return new Imported(file, kind, name, team, action, revision, more, schedules, before, after);
        }
    }

    /** What is brought in, by its kind and where it stands. */
    private record Place(Origins.Kind kind, String name, String file, int line) {}

    private final Jobs jobs;
    private final JobChecks checks;
    private final JobWarnings warnings;
    private final Calendars calendars;
    private final ScheduleAdvice schedules;
    private final CalendarUse use;
    private final Rosters rosters;
    private final Lanes lanes;
    private final Tellings tellings;
    private final RowUse rows;
    private final Origins origins;
    private final Turn turn;
    private final TransactionTemplate transaction;

    Imports(
            Jobs jobs,
            JobChecks checks,
            JobWarnings warnings,
            Calendars calendars,
            ScheduleAdvice schedules,
            CalendarUse use,
            Rosters rosters,
            Lanes lanes,
            Tellings tellings,
            RowUse rows,
            Origins origins,
            Turn turn,
            TransactionTemplate transaction) {
        this.turn = turn;
        this.transaction = transaction;
        this.origins = origins;
        this.tellings = tellings;
        this.rows = rows;
        this.jobs = jobs;
        this.checks = checks;
        this.warnings = warnings;
        this.calendars = calendars;
        this.schedules = schedules;
        this.use = use;
        this.rosters = rosters;
        this.lanes = lanes;
    }

    /**
     * Brings files in; a dry run says what would be done and does nothing.
     *
     * @param overEdits whether edits that were made since a file was last brought in may be undone
     */
    public List<Imported> bringIn(Caller caller, boolean dryRun, boolean overEdits, ImportBody body) {
        if (body.files() == null || body.files().isEmpty() || body.files().size() > MOST_FILES) {
            throw new InvalidException("files", "1 to " + MOST_FILES + " files are expected");
        }
        Found found = Found.read(body.files());
        // other systems are asked between two transactions: nobody waits for a connection or for records meanwhile
        transaction.executeWithoutResult(begun -> judge(caller, dryRun, overEdits, found));
        List<List<String>> ahead =
                warnings.ahead(found.definitions().stream().map(Definition::job).toList());
        Supplier<List<Imported>> last =
                () -> bringIn(caller, dryRun, judge(caller, dryRun, overEdits, found), ahead.iterator());
        return dryRun
                ? transaction.execute(begun -> last.get())
                : turn.change(
                        found.rosters.stream()
                                .map(each -> each.definition().roster().name())
                                .toList(),
                        last);
    }

    /** What files hold, once nothing speaks against bringing it in. */
    private record Judged(Found found, List<Calendar> dates, Map<Place, String> edited) {}

    private Judged judge(Caller caller, boolean dryRun, boolean overEdits, Found found) {
        List<Calendar> dates = found.calendars.stream()
                .map(each -> each.definition().calendar())
                .toList();
        check(caller, found, dates);
        if (!found.problems.isEmpty()) {
            throw new Invalid(found.problems.stream()
                    .sorted(Comparator.comparing(Wrong::file).thenComparing(Wrong::line))
                    .toList());
        }
        Map<Place, String> edited = overEdits ? Map.of() : edited(found);
        if (!dryRun && !edited.isEmpty()) {
            throw new Invalid(edited.entrySet().stream()
                    .map(each -> Wrong.of(
                            each.getKey().file(), new Problem("", each.getKey().line(), 1, each.getValue())))
                    .toList());
        }
        return new Judged(found, dates, edited);
    }

    private List<Imported> bringIn(Caller caller, boolean dryRun, Judged judged, Iterator<List<String>> ahead) {
        Found found = judged.found();
        Map<Place, String> edited = judged.edited();
        List<Definition> together = found.definitions();
        List<Imported> done = Stream.of(
                        Found.inOrder(found.calendars).stream().map(each -> bringIn(caller, each, dryRun)),
                        found.lanes.stream().map(each -> bringIn(caller, each, dryRun)),
                        found.tellings.stream().map(each -> bringIn(caller, each, dryRun)),
                        found.rosters.stream()
                                .map(each -> bringIn(
                                        caller,
                                        each,
                                        rows.complaints(
                                                caller,
                                                each.definition().roster().name(),
                                                each.definition().roster().rows(),
                                                together.stream()
                                                        .map(Definition::job)
                                                        .toList()),
                                        dryRun)),
                        found.jobs.stream()
                                .map(each ->
                                        bringIn(caller, each, calendars.asIf(judged.dates()), ahead.next(), dryRun)))
                .flatMap(each -> each)
                .toList();
        if (!dryRun) {
            done.stream()
                    .filter(each -> !each.action().equals("leave"))
                    .forEach(each -> origins.broughtIn(kind(each.kind()), each.name()));
        }
        return done.stream()
                .map(each -> edited.entrySet().stream()
                        .filter(edit -> edit.getKey().kind() == kind(each.kind())
                                && edit.getKey().name().equals(each.name()))
                        .findFirst()
                        .map(edit -> each.warning(edit.getValue()))
                        .orElse(each))
                .map(each -> dryRun && each.action().equals("change")
                        ? each.comparing(currentText(each).orElse(""), found.text(each))
                        : each)
                .toList();
    }

    /** The same, undoing no edits. */
    public List<Imported> bringIn(Caller caller, boolean dryRun, ImportBody body) {
        return bringIn(caller, dryRun, false, body);
    }

    static Origins.Kind kind(String word) {
        return switch (word) {
            case "calendar" -> Origins.Kind.CALENDAR;
            case "roster" -> Origins.Kind.ROSTER;
            case "lane" -> Origins.Kind.LANE;
            case "notification" -> Origins.Kind.NOTIFICATION;
            case "duty" -> Origins.Kind.DUTY;
            case "channel" -> Origins.Kind.CHANNEL;
            case "digest" -> Origins.Kind.DIGEST;
            case "wording" -> Origins.Kind.WORDING;
            default -> Origins.Kind.JOB;
        };
    }

    /** All that is wrong, of every definition. */
    private void check(Caller caller, Found found, List<Calendar> dates) {
        for (Found.FoundCalendar each : found.calendars) {
            found.add(each.file(), calendars.problems(caller, each.definition(), dates));
        }
        List<String> jobNames = found.definitions().stream()
                .map(definition -> definition.job().name())
                .toList();
        for (Found.FoundLane each : found.lanes) {
            found.add(each.file(), lanes.problems(caller, each.definition(), jobNames));
        }
        List<Telling> beside =
                found.tellings.stream().map(each -> each.definition().telling()).toList();
        for (Found.FoundTelling each : found.tellings) {
            found.add(each.file(), tellings.problems(caller, each.definition(), beside));
        }
        for (Found.FoundRoster each : found.rosters) {
            found.add(each.file(), rosters.problems(caller, each.definition(), jobNames));
        }
        var together = new JobChecks.Together(
                found.definitions(),
                dates,
                found.rosters.stream()
                        .map(each -> each.definition().roster().name())
                        .toList(),
                found.lanes.stream().map(each -> each.definition().lane()).toList());
        for (Found.FoundJob each : found.jobs) {
            found.add(each.file(), checks.problems(caller, each.definition(), together));
        }
    }

    /** What would undo an edit that was made since, and whose. */
    private Map<Place, String> edited(Found found) {
        var places = new LinkedHashMap<Place, String>();
        found.calendars.forEach(each -> {
            CalendarDefinition definition = each.definition();
            String name = definition.calendar().name();
            var place = new Place(Origins.Kind.CALENDAR, name, each.file(), definition.line());
            compare(places, place, calendars.currentText(name), definition.text());
        });
        found.lanes.forEach(each -> {
            LaneDefinition definition = each.definition();
            String name = definition.lane().name();
            var place = new Place(Origins.Kind.LANE, name, each.file(), definition.line());
            compare(places, place, lanes.currentText(name), definition.text());
        });
        found.tellings.forEach(each -> {
            TellingDefinition definition = each.definition();
            Telling telling = definition.telling();
            var place = new Place(kind(telling.kind()), telling.name(), each.file(), definition.line());
            compare(places, place, tellings.currentText(telling.kind(), telling.name()), definition.text());
        });
        found.rosters.forEach(each -> {
            RosterDefinition definition = each.definition();
            String name = definition.roster().name();
            var place = new Place(Origins.Kind.ROSTER, name, each.file(), definition.line());
            compare(places, place, rosters.currentText(name), definition.text());
        });
        found.jobs.forEach(each -> {
            Definition definition = each.definition();
            String name = definition.job().name();
            var place = new Place(Origins.Kind.JOB, name, each.file(), definition.line());
            compare(places, place, currentText(name), definition.text());
        });
        return places;
    }

    private void compare(Map<Place, String> places, Place place, Optional<String> current, String text) {
        if (!current.equals(Optional.of(text))) {
            note(places, place);
        }
    }

    private void note(Map<Place, String> places, Place place) {
        origins.editedBy(place.kind(), place.name())
                .ifPresent(who -> places.put(
                        place,
                        place.name() + " was edited by " + who + " since it was last brought in from a file, and this"
                                + " would undo the edit; export it first, or bring it in with --over-edits"));
    }

    private Optional<String> currentText(Imported one) {
        return switch (kind(one.kind())) {
            case CALENDAR -> calendars.currentText(one.name());
            case ROSTER -> rosters.currentText(one.name());
            case LANE -> lanes.currentText(one.name());
            case NOTIFICATION, DUTY, CHANNEL, DIGEST, WORDING -> tellings.currentText(one.kind(), one.name());
            case JOB -> currentText(one.name());
        };
    }

    private Optional<String> currentText(String job) {
        return jobs.named(job).filter(known -> !known.isRetired()).map(known -> jobs.text(known, known.revision()));
    }

    private static List<String> sentences(CalendarUse.Comparison comparison) {
        return Stream.concat(
                        comparison.moved().stream().map(MovedWords::sentence),
                        Stream.of(comparison.notCompared())
                                .filter(count -> count > 0)
                                .map(count -> Words.count(count, "more schedule") + " could not be compared in time"))
                .toList();
    }

    /** Calendars go first, since schedules speak of them. */
    private Imported bringIn(Caller caller, Found.FoundCalendar found, boolean dryRun) {
        CalendarDefinition definition = found.definition();
        String name = definition.calendar().name();
        Optional<String> current = calendars.currentText(name);
        int next = calendars.nextRevision(name);
        boolean same = current.filter(definition.text()::equals).isPresent();
        List<String> moved = same
                ? List.of()
                : sentences(use.moved(caller, calendars.asIf(List.of(definition.calendar())), DAYS_COMPARED));
        if (!dryRun && !same) {
            calendars.save(caller, definition);
        }
        return new Imported(
                found.file(),
                "calendar",
                name,
                definition.calendar().team(),
                same ? "leave" : next == 1 ? "create" : "change",
                same ? next - 1 : next,
                moved,
                List.of(),
                null,
                null);
    }

    private Imported bringIn(Caller caller, Found.FoundLane found, boolean dryRun) {
        LaneDefinition definition = found.definition();
        String name = definition.lane().name();
        boolean same = lanes.currentText(name).filter(definition.text()::equals).isPresent();
        int revision = lanes.revision(name);
        if (!dryRun && !same) {
            lanes.save(caller, definition);
        }
        return new Imported(
                found.file(),
                "lane",
                name,
                definition.lane().team(),
                same ? "leave" : revision == 0 ? "create" : "change",
                same ? revision : revision + 1,
                List.of(),
                List.of(),
                null,
                null);
    }

    private Imported bringIn(Caller caller, Found.FoundTelling found, boolean dryRun) {
        Telling telling = found.definition().telling();
        boolean same = tellings.currentText(telling.kind(), telling.name())
                .filter(found.definition().text()::equals)
                .isPresent();
        int revision = tellings.revision(telling.kind(), telling.name());
        if (!dryRun && !same) {
            tellings.save(caller, found.definition());
        }
        return new Imported(
                found.file(),
                telling.kind(),
                telling.name(),
                telling.team(),
                same ? "leave" : revision == 0 ? "create" : "change",
                same ? revision : revision + 1,
                tellings.warnings(telling),
                List.of(),
                null,
                null);
    }

    private Imported bringIn(Caller caller, Found.FoundRoster found, List<String> said, boolean dryRun) {
        RosterDefinition definition = found.definition();
        String name = definition.roster().name();
        Optional<String> current = rosters.currentText(name);
        boolean same = current.filter(definition.text()::equals).isPresent();
        int revision = rosters.revision(name);
        if (!dryRun && !same) {
            rosters.save(caller, definition);
        }
        return new Imported(
                found.file(),
                "roster",
                name,
                definition.roster().team(),
                same ? "leave" : revision == 0 ? "create" : "change",
                same ? revision : revision + 1,
                said,
                List.of(),
                null,
                null);
    }

    private Imported bringIn(
            Caller caller,
            Found.FoundJob found,
            Function<String, Optional<CalendarDays>> days,
            List<String> ahead,
            boolean dryRun) {
        Definition definition = found.definition();
        JobEntry known = jobs.named(definition.job().name()).orElse(null);
        String action;
        int revision;
        if (known == null) {
            action = "create";
            revision = 1;
        } else if (!known.isRetired() && jobs.text(known, known.revision()).equals(definition.text())) {
            action = "leave";
            revision = known.revision();
        } else {
            action = "change";
            revision = known.revision() + 1;
        }
        if (!dryRun && !action.equals("leave")) {
            jobs.save(caller, definition);
        }
        return new Imported(
                found.file(),
                definition.job() instanceof Job.Chain ? "chain" : "task",
                definition.job().name(),
                definition.job().team(),
                action,
                revision,
                warnings.of(definition.job(), ahead),
                schedules.explain(definition.job(), days),
                null,
                null);
    }
}
