package org.gantrel.client.api;

import java.util.ArrayList;
import java.util.List;
import tools.jackson.databind.JsonNode;

/** The service turned a call down; it said why (RFC 9457). */
public final class Refused extends RuntimeException {

    private final int status;
    private final transient JsonNode problem;

    Refused(int status, JsonNode problem) {
        super(problem.path("detail").asString("the service answered with status " + status));
        this.status = status;
        this.problem = problem;
    }

    /** Whether the same may be taken later: it was too much at once, or the service is not well. */
    public boolean isForLater() {
        return status == 429 || status >= 500;
    }

    /** The exit code of a command that ends with it. */
    public int exitCode() {
        return switch (status) {
            case 401, 403, 429 -> 3;
            case 404, 409, 412, 428 -> 4;
            case 400, 422 -> 2;
            default -> 1;
        };
    }

    /** All that is wrong, a line each, with file, line and column where there are such. */
    public List<String> lines() {
        var lines = new ArrayList<String>();
        for (JsonNode wrong : problem.path("problems")) {
            var line = new StringBuilder(wrong.path("file").asString(""));
            if (wrong.has("line")) {
                line.append(line.isEmpty() ? "line " : ":")
                        .append(wrong.path("line").asInt());
                line.append(':').append(wrong.path("column").asInt(1));
            }
            if (!line.isEmpty()) {
                line.append(": ");
            }
            String field = wrong.path("field").asString("");
            line.append(field.isEmpty() ? "" : field + ": ")
                    .append(wrong.path("message").asString(""));
            lines.add(line.toString());
        }
        if (lines.isEmpty()) {
            lines.add(getMessage() + (status == 401 ? "; 'gantrel login' signs in" : ""));
        }
        return lines;
    }
}
