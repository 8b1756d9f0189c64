package org.gantrel.core.problem;

import java.util.List;
import java.util.stream.Collectors;

/** What was given cannot be used; it carries every problem, not only the first. */
public final class InvalidException extends RuntimeException {

    private final transient List<Problem> problems;

    public InvalidException(List<Problem> problems) {
        super(problems.stream().map(Problem::sentence).collect(Collectors.joining("\n")));
        this.problems = List.copyOf(problems);
    }

    /** A single problem of one field. */
    public InvalidException(String field, String message) {
        this(List.of(Problem.of(field, message)));
    }

    public List<Problem> problems() {
        return problems;
    }
}
