package org.gantrel.service.http;

import java.util.List;
import org.gantrel.core.problem.InvalidException;

/** Input that cannot be used, by file. */
public final class Invalid extends RuntimeException {

    private final transient List<ProblemView.Wrong> problems;

    public Invalid(List<ProblemView.Wrong> problems) {
        super(problems.size() + " problems: " + problems);
        this.problems = List.copyOf(problems);
    }

    public static Invalid of(InvalidException exception) {
        return new Invalid(exception.problems().stream()
                .map(problem -> ProblemView.Wrong.of("", problem))
                .toList());
    }

    public List<ProblemView.Wrong> problems() {
        return problems;
    }
}
