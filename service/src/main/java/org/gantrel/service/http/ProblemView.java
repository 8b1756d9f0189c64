package org.gantrel.service.http;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.util.List;
import org.gantrel.core.problem.Problem;

/**
 * The one shape of an error (RFC 9457, application/problem+json).
 *
 * @param problems everything that is wrong with the input, each with its place and what would be right
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record ProblemView(String type, String title, int status, String detail, String instance, List<Wrong> problems) {

    /** One thing that is wrong. */
    @JsonInclude(JsonInclude.Include.NON_DEFAULT)
    public record Wrong(String file, String field, int line, int column, String message) {

        public static Wrong of(String file, Problem problem) {
            return new Wrong(file, problem.field(), problem.line(), problem.column(), problem.message());
        }
    }
}
