package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.gantrel.core.problem.Problem;
import org.gantrel.core.yaml.Section;

/** Finds where in a document the thing stands that a path names, such as {@code schedules[1].calendar}. */
public final class Places {

    private static final Pattern PART = Pattern.compile("([^.\\[\\]]+)((?:\\[\\d+])?)");

    private Places() {}

    /**
     * A problem of a definition at the line and column of its field, or of the nearest thing around it.
     *
     * @param text the document
     * @param firstLine the line of the file on which the document begins, from 1
     */
    public static Problem problem(String text, int firstLine, String field, String message) {
        var found = new ArrayList<Problem>();
        Optional<Section> section = Section.compose(text, new ArrayList<>());
        section.ifPresent(whole -> complain(whole, field, message, found));
        return found.isEmpty()
                ? new Problem(field, firstLine, 1, message)
                : new Problem(
                        field, found.get(0).line() + firstLine - 1, found.get(0).column(), message);
    }

    private static void complain(Section whole, String field, String message, List<Problem> found) {
        Section at = whole;
        String key = "";
        Matcher parts = PART.matcher(field);
        while (parts.find()) {
            if (!key.isEmpty()) {
                Optional<Section> inner = at.inner(key);
                if (inner.isEmpty()) {
                    break;
                }
                at = inner.get();
            }
            String next = parts.group(1) + parts.group(2);
            if (!at.hasAt(next)) {
                break;
            }
            key = next;
        }
        found.add(key.isEmpty() ? whole.problemOf(message) : at.problemAt(key, message));
    }
}
