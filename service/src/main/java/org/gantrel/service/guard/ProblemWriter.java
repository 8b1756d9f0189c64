package org.gantrel.service.guard;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import org.gantrel.service.http.ProblemView;
import org.gantrel.service.refusal.Refusal;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import tools.jackson.databind.json.JsonMapper;

/** Answers a call that a filter turns down, in the one shape of an error (RFC 9457). */
public final class ProblemWriter {

    private static final JsonMapper JSON = JsonMapper.shared();

    private ProblemWriter() {}

    /** Answers with what was refused, unless the answer has begun already. */
    public static void write(HttpServletRequest request, HttpServletResponse response, Refusal refusal)
            throws IOException {
        refusal.again().ifPresent(seconds -> response.setHeader(HttpHeaders.RETRY_AFTER, String.valueOf(seconds)));
        write(request, response, refusal.status(), refusal.title(), refusal.getMessage());
    }

    /** Answers with a status and a sentence, unless the answer has begun already. */
    public static void write(
            HttpServletRequest request, HttpServletResponse response, HttpStatus status, String title, String detail)
            throws IOException {
        if (response.isCommitted()) {
            return;
        }
        response.setStatus(status.value());
        response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
        byte[] problem = JSON.writeValueAsBytes(
                new ProblemView("about:blank", title, status.value(), detail, request.getRequestURI(), null));
        // its end is known even where the connection stays open for the rest of a body
        response.setContentLength(problem.length);
        response.getOutputStream().write(problem);
    }
}
