package org.gantrel.service.run;

import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.run.CauseKind;
import org.gantrel.core.run.RunState;
import org.gantrel.core.text.Instants;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.text.SearchWords;
import org.gantrel.core.text.Words;

/**
 * Which runs are looked for. Every part that is given narrows the search.
 *
 * @param since planned at this instant or later
 * @param until planned before this instant
 * @param rows whether the rows of sweeps count by themselves; otherwise their sweep stands for them
 * @param text each begins a word in the run's number, job, starter, values or message
 */
public record RunFilter(
        Optional<String> job,
        Optional<String> team,
        List<RunState> states,
        Optional<CauseKind> cause,
        Optional<String> starter,
        Optional<Instant> since,
        Optional<Instant> until,
        boolean rows,
        List<String> text) {

    private static final int MOST_WORDS = 8;
    private static final List<String> NAMES = List.of(
            "job", "team", "state", "cause", "starter", "since", "until", "rows", "q", "sort", "limit", "after");

    /**
     * Reads a filter from the parameters of a call; several states are divided by commas.
     *
     * @throws InvalidException with every parameter that is wrong
     */
    public static RunFilter of(Map<String, String> given) {
        var problems = new ArrayList<Problem>();
        given.keySet().stream()
                .filter(name -> !NAMES.contains(name))
                .forEach(name -> problems.add(Problem.of(
                        name, "is no filter" + Nearest.hint(name, NAMES) + "; there are " + Words.list(NAMES))));
        var states = new ArrayList<RunState>();
        for (String word : given.getOrDefault("state", "").split(",")) {
            if (!word.isBlank()) {
                RunState.of(word.strip())
                        .ifPresentOrElse(
                                states::add,
                                () -> problems.add(Problem.of(
                                        "state",
                                        "'" + word + "' is no state; there are " + Words.list(RunState.words()))));
            }
        }
        Function<String, Optional<String>> text =
                name -> Optional.ofNullable(given.get(name)).map(String::strip).filter(value -> !value.isEmpty());
        Optional<CauseKind> cause = text.apply("cause").flatMap(CauseKind::of);
        if (text.apply("cause").isPresent() && cause.isEmpty()) {
            problems.add(Problem.of("cause", "'" + given.get("cause") + "' is no cause of a run"));
        }
        List<String> words = List.copyOf(SearchWords.lookedFor(text.apply("q").orElse("")));
        if (words.size() > MOST_WORDS) {
            problems.add(Problem.of("q", "at most " + MOST_WORDS + " words are looked for"));
        }
        var filter = new RunFilter(
                text.apply("job"),
                text.apply("team"),
                states,
                cause,
                text.apply("starter"),
                instant(given, "since", problems),
                instant(given, "until", problems),
                rows(given, problems),
                words);
        if (!problems.isEmpty()) {
            throw new InvalidException(problems);
        }
        return filter;
    }

    private static boolean rows(Map<String, String> given, List<Problem> problems) {
        String text = given.getOrDefault("rows", "");
        if (!List.of("", "yes", "no").contains(text)) {
            problems.add(Problem.of("rows", "'" + text + "': yes, or no to leave the rows of sweeps out"));
        }
        return !text.equals("no");
    }

    private static Optional<Instant> instant(Map<String, String> given, String name, List<Problem> problems) {
        String text = given.getOrDefault(name, "");
        if (text.isBlank()) {
            return Optional.empty();
        }
        try {
            return Optional.of(Instants.parse(text));
        } catch (IllegalArgumentException e) {
            problems.add(Problem.of(name, "'" + text + "': " + e.getMessage()));
            return Optional.empty();
        }
    }

    /** The conditions of the filter in JPQL over {@code r}, with the values of their parameters. */
    String conditions(Map<String, Object> values) {
        var conditions = new LinkedHashMap<String, Object>();
        job.ifPresent(name -> conditions.put("r.jobId = (select j.id from JobRecord j where j.name = :job)", name));
        if (!states.isEmpty()) {
            conditions.put("r.state in :state", states);
        }
        cause.ifPresent(kind -> conditions.put("r.cause = :cause", kind));
        if (!rows) {
            conditions.put("r.cause <> :row", CauseKind.SWEEP);
        }
        starter.ifPresent(person -> conditions.put("r.starter = :starter", person));
        since.ifPresent(instant -> conditions.put("r.plannedAt >= :since", instant));
        until.ifPresent(instant -> conditions.put("r.plannedAt < :until", instant));
        for (int i = 0; i < text.size(); i++) {
            String word = text.get(i);
            values.put("after" + i, word + Character.MAX_VALUE);
            conditions.put(
                    "exists (select 1 from RunWord w where w.runNumber = r.number and w.word < :after" + i
                            + " and w.word >= :text" + i + ")",
                    word);
        }
        var jpql = new StringBuilder();
        conditions.forEach((condition, value) -> {
            jpql.append(" and ").append(condition);
            values.put(condition.replaceAll("(?s).*:(\\w+).*", "$1"), value);
        });
        return jpql.toString();
    }
}
