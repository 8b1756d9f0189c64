package org.gantrel.core.run;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.yaml.Section;

/**
 * How far work says it is, in a line of its output: {@code %gantrel {"progress": 0.4, "text": "4 of 10 routes", "values":
 * {"tickets": 339}}}. Each part may be missing. A line that is not so is a line of the log like any other.
 *
 * @param share from 0 to 1; nothing where that is not said
 * @param values named values of the run
 */
public record Progress(Optional<Double> share, String text, Map<String, String> values) {

    /** What such a line begins with. */
    public static final String MARK = "%gantrel ";

    private static final int LONGEST_LINE = 4_000;
    private static final int LONGEST_TEXT = 200;
    private static final int MOST_VALUES = 50;
    private static final String NAME = "[A-Za-z][A-Za-z0-9_.-]{0,59}";

    public Progress {
        values = Map.copyOf(values);
    }

    /** Reads a line; nothing where it is none of these. */
    public static Optional<Progress> of(String line) {
        if (!line.startsWith(MARK) || line.length() > LONGEST_LINE) {
            return Optional.empty();
        }
        String json = line.substring(MARK.length()).strip();
        var problems = new ArrayList<Problem>();
        Optional<Section> form = json.startsWith("{") ? Section.compose(json, problems) : Optional.empty();
        if (form.isEmpty()) {
            return Optional.empty();
        }
        form.get().knowing("progress", "text", "values");
        Optional<String> share = form.get().text("progress", 20);
        String text = form.get().text("text", LONGEST_TEXT).orElse("");
        Map<String, String> values = form.get().map("values", LONGEST_TEXT);
        boolean right = problems.isEmpty()
                && !form.get().keys().isEmpty()
                && share.filter(each -> !isShare(each)).isEmpty()
                && values.size() <= MOST_VALUES
                && values.keySet().stream().allMatch(name -> name.matches(NAME));
        return right ? Optional.of(new Progress(share.map(Double::parseDouble), text, values)) : Optional.empty();
    }

    private static boolean isShare(String text) {
        return text.matches("[01](\\.\\d{1,12})?|0?\\.\\d{1,12}") && Double.parseDouble(text) <= 1;
    }

    /** The same with what a later line says; what that does not say stays. */
    public Progress then(Progress later) {
        var all = new LinkedHashMap<>(values);
        all.putAll(later.values());
        while (all.size() > MOST_VALUES) {
            all.remove(all.keySet().iterator().next());
        }
        return new Progress(later.share().or(this::share), later.text().isEmpty() ? text : later.text(), all);
    }

    /** A text without the lines that tell of progress. */
    public static String without(String text) {
        if (!text.contains(MARK)) {
            return text;
        }
        var left = new StringBuilder();
        List<String> lines = List.of(text.split("(?<=\n)", -1));
        lines.stream().filter(line -> of(line.stripTrailing()).isEmpty()).forEach(left::append);
        return left.toString();
    }
}
