package org.gantrel.service.guard;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.util.Optional;
import org.gantrel.service.refusal.Refusal;
import org.springframework.core.Ordered;
import org.springframework.core.annotation.Order;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Turns calls away that are no proper calls, before anything reads them: an address or a query that is no UTF-8 or holds
 * control characters (RFC 3986, 2.1 and 3.4), and a body that does not say that it is JSON.
 */
@Component
@Order(Ordered.HIGHEST_PRECEDENCE + 1)
class WellFormed extends OncePerRequestFilter {

    @Override
    protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
            throws ServletException, IOException {
        Optional<Refusal> refusal = complaint(request);
        if (refusal.isPresent()) {
            ProblemWriter.write(request, response, refusal.get());
        } else {
            chain.doFilter(request, response);
        }
    }

    private static Optional<Refusal> complaint(HttpServletRequest request) {
        String path = request.getRequestURI();
        if (path.equals("/error")) {
            return Optional.of(Refusal.notFound("there is nothing at /error"));
        }
        if (!isText(path)) {
            return Optional.of(Refusal.notUnderstood(
                    "the address is no text in UTF-8, percent-encoded and without control characters"));
        }
        if (request.getQueryString() != null && !isText(request.getQueryString())) {
            return Optional.of(Refusal.notUnderstood(
                    "the query is no text in UTF-8, percent-encoded and without control characters"));
        }
        // what calls a trigger's address comes in several forms
        return path.startsWith(Fairness.CALLS) ? Optional.empty() : body(request);
    }

    private static Optional<Refusal> body(HttpServletRequest request) {
        String given = request.getContentType();
        if (given == null || !Arrival.hasBody(request)) {
            return Optional.empty();
        }
        try {
            MediaType type = MediaType.parseMediaType(given);
            boolean json = type.isConcrete() && type.isCompatibleWith(MediaType.APPLICATION_JSON);
            boolean utf8 = type.getCharset() == null || type.getCharset().equals(StandardCharsets.UTF_8);
            return json && utf8 ? Optional.empty() : Optional.of(Refusal.otherType(given));
        } catch (IllegalArgumentException e) {
            return Optional.of(Refusal.otherType(given));
        }
    }

    /** Whether a percent-encoded text is UTF-8 without control characters. */
    static boolean isText(String encoded) {
        var bytes = new ByteArrayOutputStream(encoded.length());
        for (int i = 0; i < encoded.length(); i++) {
            char letter = encoded.charAt(i);
            if (letter == '%') {
                boolean whole = i + 2 < encoded.length();
                int high = whole ? Character.digit(encoded.charAt(i + 1), 16) : -1;
                int low = whole ? Character.digit(encoded.charAt(i + 2), 16) : -1;
                if (high < 0 || low < 0) {
                    return false;
                }
                bytes.write(high * 16 + low);
                i += 2;
            } else if (letter < ' ' || letter > '~') {
                return false;
            } else {
                bytes.write(letter);
            }
        }
        try {
            return StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes.toByteArray()))
                    .chars()
                    .noneMatch(each -> each < ' ' && each != '\t' && each != '\n' && each != '\r');
        } catch (CharacterCodingException e) {
            return false;
        }
    }
}
