package org.gantrel.service.journal;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.Job;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.http.Paging;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.data.domain.Limit;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.transaction.annotation.Transactional;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The journal to be read: what happened, newest first, or on from a place. */
@RestController
@RequestMapping("/api/v1/journal")
@Transactional(readOnly = true)
class JournalApi {

    private static final String ANY = "%";

    /**
     * An event.
     *
     * @param id its place in the journal
     * @param type such as {@code run.ended}
     * @param team whose it is; empty for the installation's
     * @param about what it says
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record JournalEvent(long id, String type, Instant at, Long run, String team, Map<String, Object> about) {}

    /** A type of event, for who wants to wait for one. */
    record EventTypeView(String type, String about, String says, List<EventFieldView> fields) {}

    record EventFieldView(String name, String kind, String says) {}

    private final EventStore store;
    private final Journal journal;
    private final Teams teams;

    JournalApi(EventStore store, Journal journal, Teams teams) {
        this.store = store;
        this.journal = journal;
        this.teams = teams;
    }

    /**
     * Events that a caller may know of.
     *
     * @param from where it is said, those after that place, oldest first; else the newest first
     * @param type one type; {@code run.*} for all that begin so
     */
    @GetMapping
    ResponseEntity<List<JournalEvent>> list(
            @AuthenticationPrincipal Caller caller,
            @RequestParam(defaultValue = "") String type,
            @RequestParam(defaultValue = "") String job,
            @RequestParam(defaultValue = "0") long run,
            @RequestParam(defaultValue = "") String team,
            @RequestParam(required = false) Instant since,
            @RequestParam(required = false) Long from,
            @RequestParam(defaultValue = "50") int limit,
            @RequestParam(defaultValue = "9223372036854775807") long after) {
        check(type, job);
        Set<String> seen = names(caller, Deed.SEE_RUNS, team);
        Set<String> credentials = names(caller, Deed.SEE_CREDENTIALS, team);
        if (caller.administrator() && team.isEmpty()) {
            seen.add("");
        }
        // none at all is no list for a database
        credentials.add("-");
        seen.add("-");
        String types = EventType.PREFIX + (type.isEmpty() ? ANY : type.replace("*", ANY));
        String jobs = job.isEmpty() ? ANY : ANY + "\"job\":\"" + job + "\"" + ANY;
        Instant begin = Optional.ofNullable(since).orElse(Instant.EPOCH);
        Limit most = Limit.of(Paging.limit(limit) + 1);
        List<EventRecord> found = from == null
                ? store.before(after, types, jobs, run, begin, seen, credentials, most)
                : store.onFrom(from, journal.complete(), types, jobs, run, begin, seen, credentials, most);
        return Paging.page(found, limit, EventRecord::getId, record -> view(record.value()));
    }

    private static void check(String type, String job) {
        boolean known =
                type.isEmpty() || EventType.of(type).isPresent() || type.matches("[a-z.-]*\\*|[a-z]+\\.changed");
        if (!known || type.contains("%") || type.contains("_")) {
            throw new InvalidException(
                    "type",
                    "'" + type + "' is no type of event" + Nearest.hint(type, EventType.words())
                            + "; run.* stands for all that begin so");
        }
        if (!job.isEmpty() && !job.matches(Job.NAME)) {
            throw new InvalidException("job", "'" + job + "' is no name of a job");
        }
    }

    private Set<String> names(Caller caller, Deed deed, String team) {
        return caller.among(teams.all(), deed).stream()
                .map(Team::name)
                .filter(name -> team.isEmpty() || name.equals(team))
                .collect(Collectors.toSet());
    }

    /** One event. */
    @GetMapping("/{id}")
    JournalEvent show(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        return store.findById(id)
                .map(EventRecord::value)
                .filter(event -> EventRights.sees(caller, event))
                .map(JournalApi::view)
                .orElseThrow(() -> Refusal.notFound("there is no event " + id));
    }

    /** The types of events, with what they say. */
    @GetMapping("/types")
    List<EventTypeView> types(@AuthenticationPrincipal Caller caller) {
        return EventType.words().stream()
                .map(word -> EventType.of(word).orElseThrow())
                .map(type -> new EventTypeView(
                        type.word(),
                        type.about().name().toLowerCase(Locale.ROOT),
                        type.sentence(),
                        type.fields().stream()
                                .map(field -> new EventFieldView(
                                        field.name(), field.kind().name().toLowerCase(Locale.ROOT), field.about()))
                                .toList()))
                .toList();
    }

    private static JournalEvent view(Event event) {
        String type = event.type().startsWith(EventType.PREFIX)
                ? event.type().substring(EventType.PREFIX.length())
                : event.type();
        return new JournalEvent(event.position(), type, event.at(), event.run(), event.team(), event.about());
    }
}
