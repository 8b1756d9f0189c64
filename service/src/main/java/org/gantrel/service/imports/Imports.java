package org.gantrel.service.imports;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.calendar.Calendar;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.definition.CalendarDefinition;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.Definitions;
import org.gantrel.core.definition.LaneDefinition;
import org.gantrel.core.definition.RosterDefinition;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.service.calendar.CalendarUse;
import org.gantrel.service.calendar.Calendars;
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
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Brings in definition files: all of them, or, where anything is wrong, none. */
@Component
public class Imports {

    private static final int MOST_FILES = 1_000;
    private static final int DAYS_COMPARED = 92;

    /** A definition file. */
    public record DefinitionFile(String name, String text) {}

    /** What is brought in together. */
    public record ImportBody(List<DefinitionFile> files) {}

    /**
     * What became of one definition, or would become of it.
     *
     * @param action {@code create}, {@code change} or {@code leave}
     * @param revision the revision that the job has then
     * @param schedules what its schedules stand for
     */
    public record Imported(
            String file,
            String kind,
            String name,
            String team,
            String action,
            int revision,
            List<String> warnings,
            List<ScheduleAdvice.Explained> schedules) {}

    private record FoundJob(String file, Definition definition) {}

    private record FoundRoster(String file, RosterDefinition definition) {}

    private record FoundLane(String file, LaneDefinition definition) {}

    private record FoundCalendar(String file, CalendarDefinition definition) {}

    private final Jobs jobs;
    private final JobChecks checks;
    private final JobWarnings warnings;
    private final Calendars calendars;
    private final ScheduleAdvice schedules;
    private final CalendarUse use;
    private final Rosters rosters;
    private final Lanes lanes;
    private final RowUse rows;

    Imports(
            Jobs jobs,
            JobChecks checks,
            JobWarnings warnings,
            Calendars calendars,
            ScheduleAdvice schedules,
            CalendarUse use,
            Rosters rosters,
            Lanes lanes,
            RowUse rows) {
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

    /** Brings files in; a dry run says what would be done and does nothing. */
    @Transactional
    public List<Imported> bringIn(Caller caller, boolean dryRun, ImportBody body) {
        if (body.files() == null || body.files().isEmpty() || body.files().size() > MOST_FILES) {
            throw new InvalidException("files", "1 to " + MOST_FILES + " files are expected");
        }
        var problems = new ArrayList<Wrong>();
        var calendarsIn = new ArrayList<FoundCalendar>();
        var rostersIn = new ArrayList<FoundRoster>();
        var lanesIn = new ArrayList<FoundLane>();
        List<FoundJob> found = read(body.files(), calendarsIn, rostersIn, lanesIn, problems);
        List<Definition> together = found.stream().map(FoundJob::definition).toList();
        List<Calendar> dates =
                calendarsIn.stream().map(each -> each.definition().calendar()).toList();
        for (FoundCalendar each : calendarsIn) {
            calendars
                    .problems(caller, each.definition(), dates)
                    .forEach(problem -> problems.add(Wrong.of(each.file(), problem)));
        }
        for (FoundLane each : lanesIn) {
            lanes.problems(caller, each.definition()).forEach(problem -> problems.add(Wrong.of(each.file(), problem)));
        }
        List<String> names =
                together.stream().map(definition -> definition.job().name()).toList();
        for (FoundRoster each : rostersIn) {
            rosters.problems(caller, each.definition(), names)
                    .forEach(problem -> problems.add(Wrong.of(each.file(), problem)));
        }
        var beside = new JobChecks.Together(
                together,
                dates,
                rostersIn.stream()
                        .map(each -> each.definition().roster().name())
                        .toList(),
                lanesIn.stream().map(each -> each.definition().lane()).toList());
        for (FoundJob each : found) {
            checks.problems(caller, each.definition(), beside)
                    .forEach(problem -> problems.add(Wrong.of(each.file(), problem)));
        }
        if (!problems.isEmpty()) {
            throw new Invalid(problems);
        }
        Iterator<List<String>> ahead =
                warnings.ahead(together.stream().map(Definition::job).toList()).iterator();
        return Stream.of(
                        inOrder(calendarsIn).stream().map(each -> bringIn(caller, each, dryRun)),
                        lanesIn.stream().map(each -> bringIn(caller, each, dryRun)),
                        rostersIn.stream()
                                .map(each -> bringIn(
                                        caller,
                                        each,
                                        rows.complaints(
                                                each.definition().roster().name(),
                                                each.definition().roster().rows(),
                                                together.stream()
                                                        .map(Definition::job)
                                                        .toList()),
                                        dryRun)),
                        found.stream().map(each -> bringIn(caller, each, calendars.asIf(dates), ahead.next(), dryRun)))
                .flatMap(each -> each)
                .toList();
    }

    private static List<FoundJob> read(
            List<DefinitionFile> files,
            List<FoundCalendar> calendars,
            List<FoundRoster> rosters,
            List<FoundLane> lanes,
            List<Wrong> problems) {
        var found = new ArrayList<FoundJob>();
        for (DefinitionFile file : files) {
            try {
                String text = file.text() == null ? "" : file.text();
                Definitions read = DefinitionReader.read(text);
                for (CalendarDefinition calendar : read.calendars()) {
                    String name = calendar.calendar().name();
                    if (calendars.stream()
                            .anyMatch(earlier ->
                                    earlier.definition().calendar().name().equals(name))) {
                        problems.add(Wrong.of(
                                file.name(),
                                new Problem("", calendar.line(), 1, "the calendar " + name + " is defined twice")));
                    }
                    calendars.add(new FoundCalendar(file.name(), calendar));
                }
                for (LaneDefinition lane : read.lanes()) {
                    String name = lane.lane().name();
                    if (lanes.stream()
                            .anyMatch(earlier ->
                                    earlier.definition().lane().name().equals(name))) {
                        problems.add(Wrong.of(
                                file.name(),
                                new Problem("", lane.line(), 1, "the lane " + name + " is defined twice")));
                    }
                    lanes.add(new FoundLane(file.name(), lane));
                }
                read.rosters().forEach(roster -> rosters.add(new FoundRoster(file.name(), roster)));
                for (Definition definition : read.jobs()) {
                    refuseRepeated(found, file.name(), definition, problems);
                    found.add(new FoundJob(file.name(), definition));
                }
            } catch (InvalidException e) {
                e.problems().forEach(problem -> problems.add(Wrong.of(file.name(), problem)));
            }
        }
        return found;
    }

    private static void refuseRepeated(List<FoundJob> found, String file, Definition definition, List<Wrong> problems) {
        String name = definition.job().name();
        found.stream()
                .filter(earlier -> earlier.definition().job().name().equals(name))
                .findFirst()
                .ifPresent(earlier -> problems.add(Wrong.of(
                        file,
                        new Problem(
                                "",
                                definition.line(),
                                1,
                                "the job " + name + " is defined already in " + earlier.file() + ", line "
                                        + earlier.definition().line()))));
    }

    /** Those that others are made of go before those. */
    private static List<FoundCalendar> inOrder(List<FoundCalendar> found) {
        var waiting = new ArrayList<>(found);
        var ordered = new ArrayList<FoundCalendar>();
        while (!waiting.isEmpty()) {
            List<String> names = waiting.stream()
                    .map(each -> each.definition().calendar().name())
                    .toList();
            FoundCalendar next = waiting.stream()
                    .filter(each ->
                            each.definition().calendar().others().stream().noneMatch(names::contains))
                    .findFirst()
                    .orElse(waiting.get(0));
            waiting.remove(next);
            ordered.add(next);
        }
        return ordered;
    }

    /** Calendars go first, since schedules speak of them. */
    private Imported bringIn(Caller caller, FoundCalendar found, boolean dryRun) {
        CalendarDefinition definition = found.definition();
        String name = definition.calendar().name();
        Optional<String> current = calendars.currentText(name);
        int next = calendars.nextRevision(name);
        boolean same = current.filter(definition.text()::equals).isPresent();
        List<String> moved = same
                ? List.of()
                : use.moved(caller, calendars.asIf(List.of(definition.calendar())), DAYS_COMPARED).stream()
                        .map(Imports::sentence)
                        .toList();
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
                List.of());
    }

    private Imported bringIn(Caller caller, FoundLane found, boolean dryRun) {
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
                List.of());
    }

    private Imported bringIn(Caller caller, FoundRoster found, List<String> said, boolean dryRun) {
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
                List.of());
    }

    /** What a calendar changes of a schedule: the first start that falls away, and the first that comes. */
    private static String sentence(CalendarUse.Moved moved) {
        String who = moved.job().isEmpty()
                ? "a schedule of the team " + moved.team()
                : "schedule " + moved.schedule() + " of " + moved.job();
        return Stream.of(times("would not start", moved.before()), times("would start", moved.then()))
                .filter(part -> !part.isEmpty())
                .collect(Collectors.joining(", and ", who + " ", ""));
    }

    private static String times(String words, List<Instant> times) {
        return times.isEmpty()
                ? ""
                : words + " at " + times.get(0) + (times.size() == 1 ? "" : " and " + (times.size() - 1) + " more");
    }

    private Imported bringIn(
            Caller caller,
            FoundJob found,
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
                schedules.explain(definition.job(), days));
    }
}
