package org.gantrel.service.calendar;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.net.URI;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.calendar.Calendar.Hours;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.definition.CalendarDefinition;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.text.Zones;
import org.gantrel.icalendar.DayEvent;
import org.gantrel.icalendar.IcsCalendar;
import org.gantrel.icalendar.IcsFile;
import org.gantrel.icalendar.IcsReader;
import org.gantrel.icalendar.IcsWriter;
import org.gantrel.service.change.Revision;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.http.EditTag;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Calendars: their days, their definitions and revisions, and iCalendar in and out. */
@RestController
@RequestMapping("/api/v1/calendars")
@Transactional
class CalendarApi {

    private static final int DAYS_COMPARED = 92;
    private static final int MOST_YEARS_AHEAD = 20;

    /** @param others the calendars that it is made of */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record CalendarView(
            String name,
            String team,
            String about,
            int revision,
            List<String> others,
            String hours,
            List<String> usedBy,
            boolean mayChange,
            String definition) {}

    /** @param starts what the schedules that speak of the calendar start on the day */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record DayView(LocalDate date, boolean open, String label, List<String> starts) {}

    /** @param definition a definition file with one calendar */
    record CalendarBody(String definition) {}

    /**
     * What a definition would change.
     *
     * @param moved the schedules whose coming starts a change would move
     * @param notCompared schedules for which there was no time
     */
    record CalendarPreview(List<CalendarUse.Moved> moved, int notCompared, List<DayView> days) {}

    record IcsBody(String name, String team, String text) {}

    private final Calendars calendars;
    private final CalendarUse use;
    private final Turn turn;
    private final Clock clock;

    CalendarApi(Calendars calendars, CalendarUse use, Turn turn, Clock clock) {
        this.turn = turn;
        this.calendars = calendars;
        this.use = use;
        this.clock = clock;
    }

    @GetMapping
    List<CalendarView> list(@AuthenticationPrincipal Caller caller) {
        return calendars.inUse().stream()
                .map(record -> view(caller, record, false))
                .toList();
    }

    @GetMapping("/{name}")
    ResponseEntity<CalendarView> show(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        return answer(HttpStatus.OK, caller, calendars.shown(name));
    }

    @PostMapping
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<CalendarView> create(@AuthenticationPrincipal Caller caller, @RequestBody CalendarBody body) {
        return turn.change(
                () -> created(caller, body),
                definition -> answer(HttpStatus.CREATED, caller, calendars.save(caller, definition)));
    }

    private CalendarDefinition created(Caller caller, CalendarBody body) {
        CalendarDefinition definition = read(caller, body);
        String name = definition.calendar().name();
        if (calendars.currentText(name).isPresent()) {
            throw Refusal.conflict("there is a calendar '" + name + "' already; change it with PUT");
        }
        return definition;
    }

    @PutMapping("/{name}")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<CalendarView> change(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody CalendarBody body) {
        return turn.change(
                () -> changed(caller, name, ifMatch, body),
                definition -> answer(HttpStatus.OK, caller, calendars.save(caller, definition)));
    }

    private CalendarDefinition changed(Caller caller, String name, String ifMatch, CalendarBody body) {
        CalendarRecord record = calendars.shown(name);
        caller.require(Deed.DEFINE_CALENDARS, record.team().name());
        new EditTag(record.revision()).require(ifMatch, "calendar " + name, () -> calendars
                .latest(record)
                .madeBy());
        CalendarDefinition definition = read(caller, body);
        if (!definition.calendar().name().equals(name)) {
            throw new InvalidException("calendar", "a calendar keeps its name, '" + name + "'");
        }
        return definition;
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void retire(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        turn.perform(() -> retired(caller, name));
    }

    private void retired(Caller caller, String name) {
        calendars.requireKept(caller, name);
        if (use.isUsed(name)) {
            List<String> users = use.users(caller, name);
            throw Refusal.conflict("the calendar " + name + " is used by "
                    + (users.isEmpty() ? "schedules of other teams" : String.join(", ", users))
                    + "; take it out of them first");
        }
        calendars.retire(caller, name);
    }

    /** What a definition would change, before it is saved: the schedules that move, and the days of a year. */
    @PostMapping("/preview")
    CalendarPreview preview(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(required = false) Integer year,
            @RequestBody CalendarBody body) {
        CalendarDefinition definition = read(caller, body);
        var days = calendars.asIf(List.of(definition.calendar()));
        CalendarDays these = days.apply(definition.calendar().name()).orElseThrow();
        CalendarUse.Comparison comparison = use.moved(caller, days, DAYS_COMPARED);
        return new CalendarPreview(
                comparison.moved(),
                comparison.notCompared(),
                year == null ? List.of() : daysOf(these, checked(year), Map.of()));
    }

    @GetMapping("/{name}/years/{year}")
    List<DayView> year(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @PathVariable int year,
            @RequestParam(defaultValue = "UTC") String zone) {
        calendars.shown(name);
        ZoneId read = Zones.named(zone);
        Instant first = LocalDate.of(checked(year), 1, 1).atStartOfDay(read).toInstant();
        Instant now = clock.instant();
        Instant last = LocalDate.of(year + 1, 1, 1).atStartOfDay(read).toInstant();
        Map<LocalDate, List<String>> starts = new HashMap<>();
        use.starts(caller, name, first.isBefore(now) ? now : first.minusSeconds(1), last.minusSeconds(1))
                .forEach(start -> {
                    var local = start.at().atZone(ZoneId.of(start.zone()));
                    starts.computeIfAbsent(local.toLocalDate(), day -> new ArrayList<>())
                            .add(local.toLocalTime() + " " + start.job() + (start.more() ? ", and more" : ""));
                });
        return daysOf(calendars.days(name).orElseThrow(), year, starts);
    }

    @GetMapping("/{name}/revisions")
    List<Revision.View> revisions(@PathVariable String name) {
        return calendars.revisions(calendars.shown(name)).stream()
                .map(Revision::view)
                .toList();
    }

    /** The days of a calendar, or those that it has not, as whole-day events of this year and the next. */
    @GetMapping(path = "/{name}/ics", produces = "text/calendar")
    ResponseEntity<String> ics(
            @PathVariable String name,
            @RequestParam(defaultValue = "false") boolean closed,
            @RequestParam(required = false) LocalDate from,
            @RequestParam(required = false) LocalDate until) {
        CalendarRecord record = calendars.shown(name);
        CalendarDays days = calendars.days(name).orElseThrow();
        int year = LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC).getYear();
        LocalDate first = from == null ? LocalDate.of(year, 1, 1) : from;
        LocalDate last = until == null ? LocalDate.of(year + 1, 12, 31) : until;
        if (last.isBefore(first) || first.plusYears(MOST_YEARS_AHEAD).isBefore(last)) {
            throw new InvalidException("until", "a span of at most " + MOST_YEARS_AHEAD + " years is expected");
        }
        return ResponseEntity.ok()
                .contentType(MediaType.parseMediaType("text/calendar;charset=UTF-8"))
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"" + record.name() + ".ics\"")
                .body(IcsWriter.days(record.name(), events(days, first, last, !closed)));
    }

    /** Turns an iCalendar file into a definition; nothing is saved. */
    @PostMapping("/from-ics")
    CalendarBody fromIcs(@RequestBody IcsBody body) {
        IcsFile file = IcsReader.read(body.text() == null ? "" : body.text());
        return new CalendarBody(IcsCalendar.definition(
                body.name() == null ? "" : body.name(), body.team() == null ? "" : body.team(), file));
    }

    private static List<DayEvent> events(CalendarDays days, LocalDate first, LocalDate last, boolean open) {
        var events = new ArrayList<DayEvent>();
        for (LocalDate date = first; !date.isAfter(last); date = date.plusDays(1)) {
            if (days.holds(date) != open) {
                continue;
            }
            String label = days.label(date).orElse("");
            DayEvent latest = events.isEmpty() ? null : events.get(events.size() - 1);
            if (latest != null
                    && latest.last().plusDays(1).equals(date)
                    && latest.label().equals(label)) {
                events.set(events.size() - 1, new DayEvent(latest.first(), date, label, Optional.empty()));
            } else {
                events.add(new DayEvent(date, date, label, Optional.empty()));
            }
        }
        return events;
    }

    private static List<DayView> daysOf(CalendarDays days, int year, Map<LocalDate, List<String>> starts) {
        return LocalDate.of(year, 1, 1)
                .datesUntil(LocalDate.of(year + 1, 1, 1))
                .map(date ->
                        new DayView(date, days.holds(date), days.label(date).orElse(null), starts.get(date)))
                .toList();
    }

    private int checked(int year) {
        int now = LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC).getYear();
        if (year < now - MOST_YEARS_AHEAD || year > now + MOST_YEARS_AHEAD) {
            throw new InvalidException(
                    "year", year + ": a year within " + MOST_YEARS_AHEAD + " of this one is expected");
        }
        return year;
    }

    private CalendarDefinition read(Caller caller, CalendarBody body) {
        CalendarDefinition definition =
                DefinitionReader.readCalendar(body.definition() == null ? "" : body.definition());
        List<Problem> problems = calendars.problems(caller, definition, List.of(definition.calendar()));
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return definition;
    }

    private ResponseEntity<CalendarView> answer(HttpStatus status, Caller caller, CalendarRecord record) {
        return ResponseEntity.status(status)
                .location(URI.create("/api/v1/calendars/" + record.name()))
                .eTag(new EditTag(record.revision()).toString())
                .body(view(caller, record, true));
    }

    private CalendarView view(Caller caller, CalendarRecord record, boolean whole) {
        var calendar = calendars.calendar(record);
        return new CalendarView(
                record.name(),
                record.team().name(),
                record.about(),
                record.revision(),
                calendar.others(),
                calendar.hours().map(Hours::toString).orElse(null),
                use.users(caller, record.name()),
                caller.may(Deed.DEFINE_CALENDARS, record.team().name()),
                whole ? calendars.text(record) : null);
    }
}
