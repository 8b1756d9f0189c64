package org.gantrel.service.credential;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.access.Deed;
import org.gantrel.core.credential.CredentialKind;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.durable.Turn;
import org.gantrel.service.http.EditTag;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.roster.Rosters;
import org.gantrel.service.team.Caller;
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
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Credentials. What they keep sealed goes in and never comes out. */
@RestController
@RequestMapping("/api/v1/credentials")
@Transactional
class CredentialApi {

    /**
     * @param facts what is not secret of it: account, host, address
     * @param keeps the names of its secret parts
     * @param teams other teams whose jobs may use it
     * @param jobs the only jobs that may use it; empty for all of those teams
     * @param usedBy the jobs that act as it, or use it beside
     * @param drawnBy the rosters whose rows are drawn with it
     * @param warning what will soon be wrong with it
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record CredentialView(
            String name,
            String team,
            String kind,
            String about,
            Map<String, String> facts,
            List<String> keeps,
            LocalDate expiresOn,
            List<String> teams,
            List<String> jobs,
            Instant rotatedAt,
            Instant usedAt,
            List<String> usedBy,
            List<String> drawnBy,
            String warning,
            boolean mayChange) {}

    /** @param secrets left out, the secret stays as it is */
    record CredentialBody(
            String team,
            String kind,
            String about,
            Map<String, String> facts,
            Map<String, String> secrets,
            LocalDate expiresOn,
            List<String> teams,
            List<String> jobs) {}

    record SecretsBody(Map<String, String> secrets) {}

    /** @param said what the other side answered, or why it could not be reached */
    record TestView(boolean works, String said) {}

    private final Credentials credentials;
    private final Turn turn;
    private final CredentialTest test;
    private final CredentialUse use;
    private final Rosters rosters;

    CredentialApi(Credentials credentials, Turn turn, CredentialTest test, CredentialUse use, Rosters rosters) {
        this.turn = turn;
        this.rosters = rosters;
        this.credentials = credentials;
        this.test = test;
        this.use = use;
    }

    @GetMapping
    List<CredentialView> list(@AuthenticationPrincipal Caller caller) {
        return credentials.visible(caller).stream()
                .map(record -> view(caller, record))
                .toList();
    }

    @GetMapping("/{name}")
    ResponseEntity<CredentialView> show(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        return answer(HttpStatus.OK, caller, credentials.visible(caller, name));
    }

    /** Makes a credential, or with If-Match changes one. */
    @PutMapping("/{name}")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    ResponseEntity<CredentialView> save(
            @AuthenticationPrincipal Caller caller,
            @PathVariable String name,
            @RequestHeader(name = "If-Match", required = false) String ifMatch,
            @RequestBody CredentialBody body) {
        return turn.change(() -> saved(caller, name, ifMatch, body));
    }

    private ResponseEntity<CredentialView> saved(Caller caller, String name, String ifMatch, CredentialBody body) {
        caller.requireSomewhere(Deed.KEEP_CREDENTIALS);
        boolean known = credentials.isKnown(name);
        if (known) {
            CredentialRecord record = credentials.visible(caller, name);
            caller.require(Deed.KEEP_CREDENTIALS, record.team().name());
            new EditTag(record.revision()).require(ifMatch, "credential " + name, record::changedBy);
        }
        var draft = new Credentials.Draft(
                Optional.ofNullable(body.team()).orElse(""),
                kind(body.kind()),
                Optional.ofNullable(body.about()).orElse(""),
                body.facts() == null ? Map.of() : body.facts(),
                body.secrets(),
                body.expiresOn(),
                body.teams() == null ? List.of() : body.teams(),
                body.jobs() == null ? List.of() : body.jobs());
        return answer(known ? HttpStatus.OK : HttpStatus.CREATED, caller, credentials.save(caller, name, draft));
    }

    /** Puts a new secret in the place of the old one. */
    @PostMapping("/{name}/rotate")
    ResponseEntity<CredentialView> rotate(
            @AuthenticationPrincipal Caller caller, @PathVariable String name, @RequestBody SecretsBody body) {
        return answer(
                HttpStatus.OK,
                caller,
                credentials.rotate(caller, name, body.secrets() == null ? Map.of() : body.secrets()));
    }

    /** Really signs in with it, and does nothing more. */
    @PostMapping("/{name}/test")
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    TestView test(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        CredentialTest.Result result = test.of(caller, name);
        return new TestView(result.works(), result.said());
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    @Transactional(propagation = Propagation.NOT_SUPPORTED)
    void delete(@AuthenticationPrincipal Caller caller, @PathVariable String name) {
        turn.perform(() -> deleted(caller, name));
    }

    private void deleted(Caller caller, String name) {
        CredentialRecord record = credentials.visible(caller, name);
        caller.require(Deed.KEEP_CREDENTIALS, record.team().name());
        Map<String, String> users = use.ofCredential(name);
        if (!users.isEmpty()) {
            throw Refusal.conflict("jobs act as the credential " + name + ": " + seen(caller, users));
        }
        Map<String, String> drawn = rosters.drawnWith(name);
        if (!drawn.isEmpty()) {
            throw Refusal.conflict("rosters are drawn with the credential " + name + ": " + seen(caller, drawn));
        }
        credentials.delete(caller, name);
    }

    private ResponseEntity<CredentialView> answer(HttpStatus status, Caller caller, CredentialRecord record) {
        return ResponseEntity.status(status)
                .eTag(new EditTag(record.revision()).toString())
                .body(view(caller, record));
    }

    private CredentialView view(Caller caller, CredentialRecord record) {
        return new CredentialView(
                record.name(),
                record.team().name(),
                record.kind().word(),
                record.about(),
                Credentials.facts(record),
                credentials.open(record).secrets().keySet().stream().sorted().toList(),
                record.expiresOn().orElse(null),
                record.forTeams(),
                record.forJobs(),
                record.rotatedAt(),
                record.usedAt().orElse(null),
                visible(caller, use.ofCredential(record.name())),
                visible(caller, rosters.drawnWith(record.name())),
                credentials.warning(record).orElse(null),
                caller.may(Deed.KEEP_CREDENTIALS, record.team().name()));
    }

    /** Those of the teams whose jobs the caller may see. */
    private static List<String> visible(Caller caller, Map<String, String> teams) {
        return teams.entrySet().stream()
                .filter(entry -> caller.may(Deed.SEE_JOBS, entry.getValue()))
                .map(Map.Entry::getKey)
                .toList();
    }

    private static String seen(Caller caller, Map<String, String> teams) {
        List<String> visible = visible(caller, teams);
        String others = visible.size() == teams.size() ? "" : "some of other teams";
        return Stream.concat(visible.stream(), Stream.of(others))
                .filter(each -> !each.isEmpty())
                .collect(Collectors.joining(", "));
    }

    private static CredentialKind kind(String word) {
        String given = word == null ? "" : word;
        return CredentialKind.of(given)
                .orElseThrow(() -> new InvalidException(
                        "kind",
                        "'" + given + "' is no kind of credential; there are "
                                + String.join(", ", CredentialKind.words())
                                + Nearest.hint(given, CredentialKind.words())));
    }
}
