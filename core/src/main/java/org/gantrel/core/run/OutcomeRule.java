package org.gantrel.core.run;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import org.gantrel.core.text.SafePattern;

/**
 * What counts as a failure of a task, and what as a warning. The worst that any part of the rule finds is the outcome.
 *
 * @param failedBy a line of the output that matches one of these is a failure
 * @param warnedBy a line that matches one of these is a warning
 * @param errorStream what it means when the command writes to its error stream
 * @param testResults JUnit XML files that it leaves behind, as a glob from its folder; empty for none
 */
public record OutcomeRule(
        ExitRule exit,
        List<SafePattern> failedBy,
        List<SafePattern> warnedBy,
        ErrorStream errorStream,
        String testResults) {

    /** Exit code 0 is success, anything else failure; output alone means nothing. */
    public static final OutcomeRule USUAL =
            new OutcomeRule(ExitRule.USUAL, List.of(), List.of(), ErrorStream.ALLOWED, "");

    /** What anything on the error stream means. */
    public enum ErrorStream {
        ALLOWED,
        WARNED,
        FAILED;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }
    }

    /**
     * What a command left behind.
     *
     * @param failedLine the first line that means failure
     * @param warnedLine the first line that means a warning
     * @param errorLine the first line of the error stream
     */
    public record Evidence(
            Optional<String> failedLine, Optional<String> warnedLine, Optional<String> errorLine, List<Item> items) {

        public static final Evidence NONE =
                new Evidence(Optional.empty(), Optional.empty(), Optional.empty(), List.of());
    }

    public OutcomeRule {
        failedBy = List.copyOf(failedBy);
        warnedBy = List.copyOf(warnedBy);
    }

    /** Whether lines of the output matter. */
    public boolean readsOutput() {
        return !failedBy.isEmpty() || !warnedBy.isEmpty();
    }

    /** How a command ended that left this exit code and this evidence. */
    public Ending ending(int code, Evidence found) {
        Ending byCode = exit.ending(code);
        return Stream.of(
                        Optional.of(byCode),
                        items(found.items()),
                        testResults.isEmpty() || !found.items().isEmpty()
                                ? Optional.<Ending>empty()
                                : Optional.of(new Ending(RunState.WARNED, "the test results have no test in them")),
                        said(found.failedLine(), RunState.FAILED, "it said"),
                        said(found.warnedLine(), RunState.WARNED, "it said"),
                        errorStream == ErrorStream.ALLOWED
                                ? Optional.<Ending>empty()
                                : said(
                                        found.errorLine(),
                                        errorStream == ErrorStream.FAILED ? RunState.FAILED : RunState.WARNED,
                                        "it wrote to its error stream"))
                .flatMap(Optional::stream)
                .reduce((worst, next) -> weight(next) > weight(worst) ? next : worst)
                .orElse(byCode);
    }

    /** The outcome of items: failed where one failed. */
    public static Optional<Ending> items(List<Item> items) {
        List<Item> failed =
                items.stream().filter(item -> item.state() == RunState.FAILED).toList();
        if (failed.isEmpty()) {
            return Optional.empty();
        }
        Item first = failed.get(0);
        return Optional.of(new Ending(
                RunState.FAILED,
                "%d of %d items failed: %s%s"
                        .formatted(
                                failed.size(),
                                items.size(),
                                first.name(),
                                first.seen().isEmpty() ? "" : " (" + first.seen() + ")")));
    }

    private static Optional<Ending> said(Optional<String> line, RunState state, String how) {
        return line.map(text -> new Ending(state, how + ": " + text.strip()));
    }

    private static int weight(Ending ending) {
        return switch (ending.state()) {
            case FAILED -> 2;
            case WARNED -> 1;
            default -> 0;
        };
    }
}
