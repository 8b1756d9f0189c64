package org.gantrel.service.signin;

import com.fasterxml.jackson.annotation.JsonInclude;
import jakarta.servlet.http.HttpServletRequest;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import org.gantrel.core.access.Deed;
import org.gantrel.service.choice.Choices;
import org.gantrel.service.guard.Fairness;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Person;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseCookie;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.security.web.csrf.CsrfToken;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, tokens, and who one is. */
@RestController
@RequestMapping("/api/v1")
class SessionApi {

    /**
     * What signing in takes.
     *
     * @param token the name of a token to make instead of a session, for programs; the console leaves it out
     * @param days how long such a token holds; 30 where nothing is said
     */
    record SignIn(String name, String password, String token, Integer days) {
        @Override
        public String toString() {
            return "sign-in of " + name;
        }
    }

    /** The token, shown this once; nothing where a session cookie was set. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record SignedIn(String person, String token) {}

    /**
     * Who the caller is.
     *
     * @param teams what the caller may do in each team
     * @param choices how the caller likes things to be shown
     */
    record Me(
            String name,
            String fullName,
            boolean administrator,
            Map<String, List<String>> teams,
            Map<String, String> choices,
            String csrf) {}

    record NewToken(String name, Integer days) {}

    record TokenView(long id, String name, Instant madeAt, Instant expiresAt, Instant lastUsedAt) {}

    private final Tokens tokens;
    private final Teams teams;
    private final Choices choices;

    SessionApi(Tokens tokens, Teams teams, Choices choices) {
        this.tokens = tokens;
        this.teams = teams;
        this.choices = choices;
    }

    @PostMapping("/sessions")
    ResponseEntity<SignedIn> signIn(@RequestBody SignIn body, HttpServletRequest request) {
        Person person = tokens.signIn(
                String.valueOf(body.name()),
                String.valueOf(body.password()),
                Fairness.address(request.getRemoteAddr()));
        if (body.token() != null) {
            int days = body.days() == null ? 30 : body.days();
            return ResponseEntity.ok(
                    new SignedIn(person.name(), tokens.create(teams.caller(person), body.token(), days)));
        }
        String session = tokens.openSession(person);
        return ResponseEntity.ok()
                .header(HttpHeaders.SET_COOKIE, cookie(session, Tokens.SESSION, request))
                .body(new SignedIn(person.name(), null));
    }

    @DeleteMapping("/sessions/current")
    ResponseEntity<Void> signOut(HttpServletRequest request) {
        TokenFilter.cookie(request).ifPresent(tokens::closeSession);
        return ResponseEntity.noContent()
                .header(HttpHeaders.SET_COOKIE, cookie("", Duration.ZERO, request))
                .build();
    }

    @GetMapping("/me")
    Me me(@AuthenticationPrincipal Caller caller, HttpServletRequest request) {
        Map<String, List<String>> rights = teams.visibleTo(caller).stream()
                .map(Team::name)
                .collect(Collectors.toMap(
                        team -> team,
                        team -> caller.deedsIn(team).stream().map(Deed::word).toList(),
                        (a, b) -> a,
                        TreeMap::new));
        var csrf = (CsrfToken) request.getAttribute(CsrfToken.class.getName());
        return new Me(
                caller.name(),
                caller.fullName(),
                caller.administrator(),
                rights,
                choices.of(caller.name()),
                csrf.getToken());
    }

    @GetMapping("/tokens")
    List<TokenView> tokens(@AuthenticationPrincipal Caller caller) {
        return tokens.of(caller).stream()
                .map(token ->
                        new TokenView(token.id(), token.name(), token.madeAt(), token.expiresAt(), token.lastUsedAt()))
                .toList();
    }

    @PostMapping("/tokens")
    @ResponseStatus(HttpStatus.CREATED)
    SignedIn createToken(@AuthenticationPrincipal Caller caller, @RequestBody NewToken body) {
        int days = body.days() == null ? 90 : body.days();
        return new SignedIn(caller.name(), tokens.create(caller, body.name() == null ? "" : body.name(), days));
    }

    @DeleteMapping("/tokens/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revokeToken(@AuthenticationPrincipal Caller caller, @PathVariable long id) {
        tokens.revoke(caller, id);
    }

    private static String cookie(String value, Duration age, HttpServletRequest request) {
        return ResponseCookie.from(TokenFilter.cookieName(request), value)
                .httpOnly(true)
                .secure(request.isSecure())
                .sameSite("Strict")
                .path("/")
                .maxAge(age)
                .build()
                .toString();
    }
}
