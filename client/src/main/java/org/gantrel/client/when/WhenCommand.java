package org.gantrel.client.when;

import java.nio.file.Path;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.Callable;
import java.util.stream.Collectors;
import org.gantrel.client.TextFile;
import org.gantrel.client.Wrong;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.schedule.Cautions;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.schedule.Shift;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.Zones;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import org.gantrel.icalendar.IcsCalendar;
import org.gantrel.icalendar.IcsFile;
import org.gantrel.icalendar.IcsReader;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.json.JsonMapper;

/** Explains a schedule and lists its next times; it needs no service. */
@Command(
        name = "when",
        description = "Explains a way of saying when, and lists its next times.",
        footer = {
            "",
            "Examples:",
            "  gantrel when \"every weekday at 06:45\" --zone Europe/Oslo",
            "  gantrel when \"45 6 * * 1-5\" --zone Europe/Oslo --from 2026-03-20T00:00Z --count 5 --format json",
            "  gantrel when \"last working day of every month at 17:00\" --except holidays.ics --shift preceding",
            "  gantrel when \"DTSTART;TZID=Europe/Oslo:20260105T090000 RRULE:FREQ=WEEKLY;INTERVAL=2;BYDAY=MO\"",
            "",
            "What can be written is in docs/phrases.md."
        })
public final class WhenCommand implements Callable<Integer> {

    private static final DateTimeFormatter MINUTES =
            DateTimeFormatter.ofPattern("EEE yyyy-MM-dd HH:mm", Locale.ENGLISH);
    private static final DateTimeFormatter SECONDS =
            DateTimeFormatter.ofPattern("EEE yyyy-MM-dd HH:mm:ss", Locale.ENGLISH);

    @Parameters(
            paramLabel = "EXPRESSION",
            description =
                    "A phrase such as 'every day at 02:30', a cron expression, or a rule of iCalendar (RFC 5545).")
    private String expression;

    @Option(
            names = "--zone",
            paramLabel = "ZONE",
            description = "The zone whose local times are meant (this machine's).")
    private String zone = ZoneId.systemDefault().getId();

    @Option(names = "--from", paramLabel = "INSTANT", description = "Times after this instant (now).")
    private String from;

    @Option(names = "--count", paramLabel = "N", defaultValue = "5", description = "How many times, up to 1000 (5).")
    private int count;

    @Option(names = "--calendar", paramLabel = "FILE.ics", description = "Keeps to the days of an iCalendar file.")
    private Path calendar;

    @Option(names = "--except", paramLabel = "FILE.ics", description = "Keeps off the days of an iCalendar file.")
    private Path except;

    @Option(
            names = "--shift",
            paramLabel = "HOW",
            defaultValue = "skip",
            description = "What becomes of a time on a wrong day: skip, following, preceding, modified-following,"
                    + " nearest (skip).")
    private String shift;

    @Option(
            names = "--format",
            paramLabel = "FORMAT",
            defaultValue = "table",
            description = "table, json or csv (table).")
    private Format format;

    @Option(
            names = {"-h", "--help"},
            usageHelp = true,
            description = "Shows this help.")
    private boolean help;

    @Override
    public Integer call() {
        ZoneId asked = readZone();
        Instant from = readFrom();
        if (count < 1 || count > 1000) {
            throw new Wrong("--count " + count + ": 1 to 1000 would be right");
        }
        Timetable timetable;
        try {
            timetable = When.parse(expression);
        } catch (WhenException e) {
            throw new Wrong("'" + expression + "', " + e.sentence());
        }
        ZoneId zone = timetable.ownZone().orElse(asked);
        // a rule without a start of its own begins with --from itself, which then counts; a phrase with its day
        boolean begins = timetable.needsStart() && timetable.kind() == Timetable.Kind.RRULE;
        Instant after = begins ? from.minusNanos(1) : from;
        Plan plan = plan(timetable.startingAt(from, zone), zone);
        var cautions = new ArrayList<>(Cautions.of(plan, from, Optional.empty()));
        if (timetable.needsStart() && !begins) {
            cautions.add("counted from the first such day after --from; 'from' and a day in the phrase settle it");
        }
        print(plan, plan.nextStarts(after, count), cautions);
        return 0;
    }

    private Plan plan(Timetable timetable, ZoneId in) {
        var keep = new DayFilter(days("--calendar", calendar), days("--except", except));
        Shift how = Shift.of(shift)
                .orElseThrow(() -> new Wrong("--shift '" + shift + "': " + String.join(", ", Shift.words())
                        + " would be right" + Nearest.hint(shift, Shift.words())));
        Timetable working = keep.to().<Timetable>map(timetable::workingOn).orElse(timetable);
        return new Plan(working, in, keep, how, Duration.ZERO, Optional.empty(), Optional.empty());
    }

    private static Optional<CalendarDays> days(String option, Path file) {
        if (file == null) {
            return Optional.empty();
        }
        try {
            String name = file.getFileName().toString();
            IcsFile read = IcsReader.read(TextFile.read(file));
            read.remarks().forEach(remark -> Printer.say(option + " " + file + ": not taken over: " + remark));
            return Optional.of(IcsCalendar.of(name, read.events()));
        } catch (InvalidException e) {
            throw new Wrong(option + " " + file + ": "
                    + e.problems().stream()
                            .map(problem ->
                                    (problem.line() > 0 ? "line " + problem.line() + ", " : "") + problem.sentence())
                            .collect(Collectors.joining("; ")));
        } catch (Wrong e) {
            throw new Wrong(option + ": " + e.getMessage());
        }
    }

    private void print(Plan plan, List<Plan.Occurrence> starts, List<String> cautions) {
        var printer = new Printer();
        Timetable timetable = plan.timetable();
        switch (format) {
            case json -> {
                Map<String, Object> answer = new LinkedHashMap<>();
                answer.put("expression", expression);
                answer.put("kind", timetable.kind().word());
                answer.put("phrase", timetable.phrase());
                answer.put("zone", plan.zone().getId());
                answer.put(
                        "occurrences",
                        starts.stream().map(start -> start.at().toString()).toList());
                if (!cautions.isEmpty()) {
                    answer.put("cautions", cautions);
                }
                printer.json(new JsonMapper().valueToTree(answer));
            }
            case csv -> starts.forEach(start -> printer.line(start.at().toString()));
            case table -> {
                printer.line(
                        printer.strong(timetable.phrase()) + ", " + plan.zone().getId());
                ZoneId here = ZoneId.systemDefault();
                boolean onMinutes = starts.stream().allMatch(start -> start.at().getEpochSecond() % 60 == 0);
                DateTimeFormatter local = onMinutes ? MINUTES : SECONDS;
                starts.forEach(start -> printer.line("  "
                        + local.format(start.at().atZone(plan.zone())) + "   "
                        + local.format(start.at().atZone(ZoneOffset.UTC)) + " UTC   yours "
                        + local.format(start.at().atZone(here))
                        + start.movedFrom().map(day -> "   moved from " + day).orElse("")
                        + Cautions.clockChange(start.at(), plan.zone())
                                .map(change -> "   " + change)
                                .orElse("")));
                cautions.forEach(Printer::say);
            }
        }
    }

    private ZoneId readZone() {
        try {
            return ZoneId.of(zone);
        } catch (DateTimeException e) {
            throw new Wrong("--zone: '" + zone + "' is no time zone" + Zones.hint(zone));
        }
    }

    private Instant readFrom() {
        if (from == null) {
            return Instant.now();
        }
        try {
            return DateTimeFormatter.ISO_DATE_TIME.parse(from, Instant::from);
        } catch (DateTimeException e) {
            throw new Wrong("--from: '" + from + "': an instant such as 2026-03-20T00:00Z would be right");
        }
    }
}
