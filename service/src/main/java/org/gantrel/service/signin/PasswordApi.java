package org.gantrel.service.signin;

import jakarta.servlet.http.HttpServletRequest;
import org.gantrel.service.guard.Fairness;
import org.gantrel.service.refusal.Refusal;
import org.gantrel.service.team.Caller;
import org.gantrel.service.team.Teams;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * Changes of passwords. A person's own takes the old one and a session, so that neither a token that was found nor a
 * screen that was left open is enough to take an account over.
 */
@RestController
class PasswordApi {

    /**
     * A new password.
     *
     * @param old the one that holds until now; not for an administrator who resets that of another
     */
    record Password(String password, String old) {
        @Override
        public String toString() {
            return "a password";
        }
    }

    private final Teams teams;
    private final Tokens tokens;

    PasswordApi(Teams teams, Tokens tokens) {
        this.teams = teams;
        this.tokens = tokens;
    }

    @PutMapping("/api/v1/people/{person}/password")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void setPassword(
            @AuthenticationPrincipal Caller caller,
            Authentication how,
            @PathVariable String person,
            @RequestBody Password body,
            HttpServletRequest request) {
        if (caller.name().equals(person)) {
            if (how.getCredentials() != AccessToken.Kind.SESSION) {
                throw Refusal.notAllowed(
                        "a token cannot change the password of whom it belongs to; sign in, as 'gantrel person password' does");
            }
            tokens.prove(caller, text(body.old()), Fairness.address(request.getRemoteAddr()));
        }
        teams.setPassword(caller, person, text(body.password()));
    }

    private static String text(String given) {
        return given == null ? "" : given;
    }
}
