package org.gantrel.service.telling;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Clock;
import java.time.Instant;
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
import org.gantrel.service.http.EditTag;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.telling.Tellings.Current;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
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

    private final Tellings tellings;
    private final Clock clock;

    TellingApi(Tellings tellings, Clock clock) {
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
    ResponseEntity<TellingView> create(@AuthenticationPrincipal Caller caller, @RequestBody TellingBody body) {
        caller.requireSomewhere(Deed.DEFINE_JOBS);
        TellingDefinition definition = read(caller, body);
        Telling telling = definition.telling();
        if (tellings.currentText(telling.kind(), telling.name()).isPresent()) {
            throw Refusal.conflict(
                    "there is a " + telling.kind() + " '" + telling.name() + "' already; change it with PUT");
        }
        return page(HttpStatus.CREATED, caller, tellings.save(caller, definition));
    }

    @PutMapping("/{kind}/{name}")
    ResponseEntity<TellingView> change(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String kind,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody TellingBody body) {
        check(kind);
        Current current = tellings.visible(caller, kind, name);
        caller.require(Deed.DEFINE_JOBS, current.telling().team());
        new EditTag(current.revision()).require(ifMatch, kind + " " + name, () -> tellings.changedBy(kind, name));
        TellingDefinition definition = read(caller, body);
        if (!definition.telling().kind().equals(kind)
                || !definition.telling().name().equals(name)) {
            throw new InvalidException(kind, "it keeps its kind and name, '" + kind + ": " + name + "'");
        }
        return page(HttpStatus.OK, caller, tellings.save(caller, definition));
    }

    @DeleteMapping("/{kind}/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void retire(@AuthenticationPrincipal Caller caller, @PathVariable String kind, @PathVariable String name) {
        check(kind);
        tellings.retire(caller, kind, name);
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
                    + digest.when() + " (" + digest.zone() + ") how it went with "
                    + digest.scope().words(digest.team()).replaceFirst("^a job", "jobs");
        }
        if (telling instanceof Wording wording) {
            return "says '" + wording.subject() + "'";
        }
        return telling instanceof Channel channel
                ? "calls " + channel.call() + (channel.signedWith().isEmpty() ? "" : ", signed")
                : "turns of a week each: " + String.join(", ", ((DutyList) telling).turns());
    }
}
