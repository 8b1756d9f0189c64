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
        caller(request).ifPresent(caller -> SecurityContextHolder.getContext()
                .setAuthentication(new UsernamePasswordAuthenticationToken(caller, null, List.of())));
        chain.doFilter(request, response);
    }

    private Optional<Caller> caller(HttpServletRequest request) {
        String header = request.getHeader("Authorization");
        if (header != null && header.startsWith(BEARER)) {
            return tokens.recognise(header.substring(BEARER.length()).strip(), AccessToken.Kind.TOKEN);
        }
        return cookie(request).flatMap(value -> tokens.recognise(value, AccessToken.Kind.SESSION));
    }

    static Optional<String> cookie(HttpServletRequest request) {
        return Optional.ofNullable(request.getCookies()).stream()
                .flatMap(Arrays::stream)
                .filter(cookie -> cookie.getName().equals(COOKIE))
                .map(Cookie::getValue)
                .findFirst();
    }
}
