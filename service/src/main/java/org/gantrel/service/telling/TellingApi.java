package org.gantrel.service.telling;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.definition.TellingDefinition;
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
import org.gantrel.service.change.Revision;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.http.EditTag;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.telling.Tellings.Current;
import org.springframework.http.HttpStatus;
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

/** Rules, duty lists and channels: who is told of what. */
@RestController
@RequestMapping("/api/v1/tellings")
@Transactional
class TellingApi {

    private static final int WATCHES = 8;

    /**
     * A rule, duty list or channel.
     *
     * @param kind {@code notification}, {@code duty} or {@code channel}
     * @param words what it does, in a sentence
     * @param onDuty of a duty list, who is on duty now
     * @param ahead of a duty list, who comes next
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record TellingView(
            String kind,
            String name,
            String team,
            String about,
            int revision,
            String words,
            String onDuty,
            List<DutyList.Watch> ahead,
            String definition,
            boolean mayChange,
            List<String> warnings) {}

    record TellingBody(String definition) {}

    /** Somebody stands in. @param until the day at whose handover time it ends @param person left out for oneself */
    record CoverBody(LocalDate from, LocalDate until, String person) {}

    /** Two weeks of duty, by a day of each. */
    record SwapBody(LocalDate week, LocalDate with) {}

    private static final String DUTY = "duty";

    private final Tellings tellings;
    private final Turn turn;
    private final Clock clock;

    TellingApi(Tellings tellings, Turn turn, Clock clock) {
        this.turn = turn;
        this.tellings = tellings;
        this.clock = clock;
    }

    /** @param kind one kind only */
    @GetMapping
    @Transactional(readOnly = true)
    List<TellingView> list(@AuthenticationPrincipal Caller caller, @RequestParam(defaultValue = "") String kind) {
        if (!kind.isEmpty()) {
            check(kind);
        }
        return tellings.visible(caller).stream()
                .filter(each -> kind.isEmpty() || each.telling().kind().equals(kind))
                .map(each -> view(caller, each))
                .toList();
    }

    private static void check(String kind) {
        if (!Telling.KINDS.contains(kind)) {
            throw new InvalidException(
                    "kind", "'" + kind + "': " + String.join(", ", Telling.KINDS) + Nearest.hint(kind, Telling.KINDS));
        }
    }

    @GetMapping("/{kind}/{name}")
    @Transactional(readOnly = true)
    ResponseEntity<TellingView> show(
            @AuthenticationPrincipal Caller caller, @PathVariable String kind, @PathVariable String name) {
        check(kind);
        return page(HttpStatus.OK, caller, tellings.visible(caller, kind, name));
    }

    @GetMapping("/{kind}/{name}/revisions")
    @Transactional(readOnly = true)
    List<Revision.View> revisions(
            @AuthenticationPrincipal Caller caller, @PathVariable String kind, @PathVariable String name) {
        check(kind);
        return tellings.revisions(caller, kind, name);
    }

    @PostMapping
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<TellingView> create(@AuthenticationPrincipal Caller caller, @RequestBody TellingBody body) {
        return turn.change(
                () -> created(caller, body),
                definition -> page(HttpStatus.CREATED, caller, tellings.save(caller, definition)));
    }

    private TellingDefinition created(Caller caller, TellingBody body) {
        caller.requireSomewhere(Deed.DEFINE_JOBS);
        TellingDefinition definition = read(caller, body);
        Telling telling = definition.telling();
        if (tellings.currentText(telling.kind(), telling.name()).isPresent()) {
            throw Refusal.conflict(
                    "there is a " + telling.kind() + " '" + telling.name() + "' already; change it with PUT");
        }
        return definition;
    }

    @PutMapping("/{kind}/{name}")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<TellingView> change(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String kind,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody TellingBody body) {
        return turn.change(
                () -> changed(caller, kind, name, ifMatch, body),
                definition -> page(HttpStatus.OK, caller, tellings.save(caller, definition)));
    }

    private TellingDefinition changed(Caller caller, String kind, String name, String ifMatch, TellingBody body) {
        check(kind);
        Current current = tellings.visible(caller, kind, name);
        caller.require(Deed.DEFINE_JOBS, current.telling().team());
        new EditTag(current.revision()).require(ifMatch, kind + " " + name, () -> tellings.changedBy(kind, name));
        TellingDefinition definition = read(caller, body);
        if (!definition.telling().kind().equals(kind)
                || !definition.telling().name().equals(name)) {
            throw new InvalidException(kind, "it keeps its kind and name, '" + kind + ": " + name + "'");
        }
        return definition;
    }

    /** Has somebody stand in on a duty list. */
    @PostMapping("/duty/{name}/covers")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<TellingView> cover(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @RequestBody CoverBody body) {
        return turn.change(() -> covered(caller, name, body));
    }

    private ResponseEntity<TellingView> covered(Caller caller, String name, CoverBody body) {
        Current current = tellings.visible(caller, DUTY, name);
        var problems = new ArrayList<Problem>();
        missing("from", body.from(), problems);
        missing("until", body.until(), problems);
        if (problems.isEmpty() && !body.until().isAfter(body.from())) {
            problems.add(Problem.of("until", "is not after " + body.from()));
        }
        refuse(problems);
        String person = body.person() == null || body.person().isBlank()
                ? caller.name()
                : body.person().strip();
        return page(
                HttpStatus.OK,
                caller,
                tellings.cover(caller, current, List.of(new DutyList.Cover(body.from(), body.until(), person))));
    }

    /** Exchanges two weeks of a duty list. */
    @PostMapping("/duty/{name}/swaps")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<TellingView> swap(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @RequestBody SwapBody body) {
        return turn.change(() -> swapped(caller, name, body));
    }

    private ResponseEntity<TellingView> swapped(Caller caller, String name, SwapBody body) {
        Current current = tellings.visible(caller, DUTY, name);
        caller.require(Deed.DEFINE_JOBS, current.telling().team());
        var problems = new ArrayList<Problem>();
        missing("week", body.week(), problems);
        missing("with", body.with(), problems);
        refuse(problems);
        List<DutyList.Cover> covers = ((DutyList) current.telling()).swap(body.week(), body.with());
        if (covers.isEmpty()) {
            throw new InvalidException("with", "the same person has both weeks");
        }
        return page(HttpStatus.OK, caller, tellings.cover(caller, current, covers));
    }

    private static void missing(String key, LocalDate day, List<Problem> problems) {
        if (day == null) {
            problems.add(Problem.of(key, "is missing: a day such as 2026-12-24"));
        }
    }

    private static void refuse(List<Problem> problems) {
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
    }

    @DeleteMapping("/{kind}/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void retire(@AuthenticationPrincipal Caller caller, @PathVariable String kind, @PathVariable String name) {
        check(kind);
        turn.perform(() -> tellings.retire(caller, kind, name));
    }

    private TellingDefinition read(Caller caller, TellingBody body) {
        TellingDefinition definition = DefinitionReader.readTelling(body.definition() == null ? "" : body.definition());
        List<Problem> problems = tellings.problems(caller, definition, List.of());
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return definition;
    }

    private ResponseEntity<TellingView> page(HttpStatus status, Caller caller, Current current) {
        return ResponseEntity.status(status)
                .eTag(new EditTag(current.revision()).toString())
                .body(view(caller, current));
    }

    private TellingView view(Caller caller, Current current) {
        Telling telling = current.telling();
        Instant now = clock.instant();
        DutyList duty = telling instanceof DutyList list ? list : null;
        return new TellingView(
                telling.kind(),
                telling.name(),
                telling.team(),
                telling.about(),
                current.revision(),
                words(telling),
                duty == null ? null : duty.at(now).orElse(null),
                duty == null ? null : duty.ahead(now, WATCHES),
                current.text(),
                caller.may(Deed.DEFINE_JOBS, telling.team()),
                tellings.warnings(telling));
    }

    private static String words(Telling telling) {
        if (telling instanceof NotificationRule rule) {
            return rule.words();
        }
        if (telling instanceof Digest digest) {
            return "tells "
                    + digest.to().stream().map(Receiver::words).collect(Collectors.joining(", ")) + " "
                    + (digest.when().isEmpty()
                            ? "after each run how it went with " + digest.chain()
                            : digest.when() + " (" + digest.zone() + ") how it went with "
                                    + (digest.chain().isEmpty()
                                            ? digest.scope()
                                                    .words(digest.team())
                                                    .replaceFirst("^a job", "jobs")
                                            : digest.chain()));
        }
        if (telling instanceof Wording wording) {
            return "says '" + wording.subject() + "'";
        }
        return telling instanceof Channel channel
                ? (channel.command().isEmpty() ? "calls " : "runs ")
                        + channel.place()
                        + (channel.signedWith().isEmpty() ? "" : ", signed")
                : "turns of a week each: " + String.join(", ", ((DutyList) telling).turns());
    }
}
