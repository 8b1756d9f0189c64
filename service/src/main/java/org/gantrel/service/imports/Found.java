package org.gantrel.service.imports;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Function;
import org.gantrel.core.definition.CalendarDefinition;
import org.gantrel.core.definition.Definition;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.Definitions;
import org.gantrel.core.definition.LaneDefinition;
import org.gantrel.core.definition.RosterDefinition;
import org.gantrel.core.definition.TellingDefinition;
import org.gantrel.core.problem.Problem;
import org.gantrel.service.http.ProblemView.Wrong;
import org.gantrel.service.imports.Imports.DefinitionFile;
import org.gantrel.service.imports.Imports.Imported;

/** What files hold, and what is wrong with them by themselves. */
final class Found {

    record FoundJob(String file, Definition definition) {}

    record FoundRoster(String file, RosterDefinition definition) {}

    record FoundLane(String file, LaneDefinition definition) {}

    record FoundTelling(String file, TellingDefinition definition) {}

    record FoundCalendar(String file, CalendarDefinition definition) {}

    final List<FoundJob> jobs = new ArrayList<>();
    final List<FoundCalendar> calendars = new ArrayList<>();
    final List<FoundRoster> rosters = new ArrayList<>();
    final List<FoundLane> lanes = new ArrayList<>();
    final List<FoundTelling> tellings = new ArrayList<>();
    final List<Wrong> problems = new ArrayList<>();

    List<Definition> definitions() {
        return jobs.stream().map(FoundJob::definition).toList();
    }

    String text(Imported one) {
        return switch (Imports.kind(one.kind())) {
            case CALENDAR ->
                text(
                        calendars,
                        each -> each.definition().calendar().name(),
                        each -> each.definition().text(),
                        one);
            case ROSTER ->
                text(
                        rosters,
                        each -> each.definition().roster().name(),
                        each -> each.definition().text(),
                        one);
            case LANE ->
                text(
                        lanes,
                        each -> each.definition().lane().name(),
                        each -> each.definition().text(),
                        one);
            case NOTIFICATION, DUTY, CHANNEL, DIGEST, WORDING ->
                text(
                        tellings.stream()
                                .filter(each ->
                                        each.definition().telling().kind().equals(one.kind()))
                                .toList(),
                        each -> each.definition().telling().name(),
                        each -> each.definition().text(),
                        one);
            case JOB ->
                text(
                        jobs,
                        each -> each.definition().job().name(),
                        each -> each.definition().text(),
                        one);
        };
    }

    private static <T> String text(List<T> all, Function<T, String> name, Function<T, String> text, Imported one) {
        return all.stream()
                .filter(each -> name.apply(each).equals(one.name()))
                .map(text)
                .findFirst()
                .orElse("");
    }

    /** Adds what else is wrong with a definition; what its own text is complained of is not said twice. */
    void add(String file, List<Problem> more) {
        more.stream()
                .filter(problem -> problems.stream()
                        .noneMatch(known -> known.file().equals(file)
                                && !problem.field().isEmpty()
                                && known.field().equals(problem.field())
                                && Math.abs(known.line() - problem.line()) <= 1))
                .forEach(problem -> problems.add(Wrong.of(file, problem)));
    }

    /** Reads all files as far as they can be read, so that what is wrong in one place hides nothing of the others. */
    static Found read(List<DefinitionFile> files) {
        var found = new Found();
        for (DefinitionFile file : files) {
            DefinitionReader.Reading reading = DefinitionReader.readAsFarAsPossible(file.text());
            Definitions read = reading.read();
            reading.problems().forEach(problem -> found.problems.add(Wrong.of(file.name(), problem)));
            for (CalendarDefinition calendar : read.calendars()) {
                String name = calendar.calendar().name();
                if (found.calendars.stream()
                        .anyMatch(earlier ->
                                earlier.definition().calendar().name().equals(name))) {
                    found.problems.add(Wrong.of(
                            file.name(),
                            new Problem("", calendar.line(), 1, "the calendar " + name + " is defined twice")));
                }
                found.calendars.add(new FoundCalendar(file.name(), calendar));
            }
            for (LaneDefinition lane : read.lanes()) {
                String name = lane.lane().name();
                if (found.lanes.stream()
                        .anyMatch(earlier -> earlier.definition().lane().name().equals(name))) {
                    found.problems.add(Wrong.of(
                            file.name(), new Problem("", lane.line(), 1, "the lane " + name + " is defined twice")));
                }
                found.lanes.add(new FoundLane(file.name(), lane));
            }
            for (TellingDefinition telling : read.tellings()) {
                if (found.tellings.stream().anyMatch(earlier -> isSame(earlier.definition(), telling))) {
                    found.problems.add(Wrong.of(
                            file.name(),
                            new Problem(
                                    "",
                                    telling.line(),
                                    1,
                                    "the " + telling.telling().kind() + " "
                                            + telling.telling().name() + " is defined twice")));
                }
                found.tellings.add(new FoundTelling(file.name(), telling));
            }
            read.rosters().forEach(roster -> found.rosters.add(new FoundRoster(file.name(), roster)));
            for (Definition definition : read.jobs()) {
                refuseRepeated(found.jobs, file.name(), definition, found.problems);
                found.jobs.add(new FoundJob(file.name(), definition));
            }
        }
        return found;
    }

    private static boolean isSame(TellingDefinition one, TellingDefinition other) {
        return one.telling().kind().equals(other.telling().kind())
                && one.telling().name().equals(other.telling().name());
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
    static List<FoundCalendar> inOrder(List<FoundCalendar> found) {
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
}
