package org.gantrel.service.signin;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.Cookie;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.gantrel.service.team.Caller;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.web.filter.OncePerRequestFilter;

/** Recognises who calls: by a bearer token (RFC 6750), or by the session cookie of the console. */
final class TokenFilter extends OncePerRequestFilter {

    static final String COOKIE = "gantrel-session";
    private static final String BEARER = "Bearer ";
    private static final int LONGEST = 200;

    private final Tokens tokens;

    TokenFilter(Tokens tokens) {
        this.tokens = tokens;
    }

    @Override
    protected boolean shouldNotFilterAsyncDispatch() {
        return false;
    }

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        Optional<String> bearer = bearer(request);
        AccessToken.Kind kind = bearer.isPresent() ? AccessToken.Kind.TOKEN : AccessToken.Kind.SESSION;
        Optional<Caller> known = bearer.or(() -> cookie(request))
                .filter(value -> value.length() <= LONGEST)
                .flatMap(value -> tokens.recognise(value, kind));
        if (known.isEmpty()) {
            bearer.filter(value -> value.length() <= LONGEST && value.startsWith(Tokens.PREFIX))
                    .ifPresent(tokens::refused);
        }
        known.ifPresent(caller -> SecurityContextHolder.getContext()
                .setAuthentication(new UsernamePasswordAuthenticationToken(caller, kind, List.of())));
        chain.doFilter(request, response);
    }

    /** The token that a program shows (RFC 6750, 2.1); the name of the scheme is read in any case. */
    static Optional<String> bearer(HttpServletRequest request) {
        return Optional.ofNullable(request.getHeader("Authorization"))
                .filter(header -> header.regionMatches(true, 0, BEARER, 0, BEARER.length()))
                .map(header -> header.substring(BEARER.length()).strip());
    }

    /** The session of the console. Where the call came by TLS, only the cookie that no other host can have set. */
    static Optional<String> cookie(HttpServletRequest request) {
        String name = cookieName(request);
        return Optional.ofNullable(request.getCookies()).stream()
                .flatMap(Arrays::stream)
                .filter(cookie -> cookie.getName().equals(name))
                .map(Cookie::getValue)
                .findFirst();
    }

    /** A name with the prefix {@code __Host-} is taken by browsers for this host alone, over TLS (RFC 6265bis, 4.1.3). */
    static String cookieName(HttpServletRequest request) {
        return (request.isSecure() ? "__Host-" : "") + COOKIE;
    }
}
