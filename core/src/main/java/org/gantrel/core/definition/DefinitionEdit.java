package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.yaml.Section;
import org.gantrel.core.yaml.Section.Span;

/** Changes single things in the text of a definition and leaves all else as it was written. */
public final class DefinitionEdit {

    private DefinitionEdit() {}

    /**
     * The definition of a job without one of its schedules.
     *
     * @throws InvalidException where the text is written so that nothing can be taken out of it safely
     */
    public static String withoutSchedule(String text, String name) {
        Job before = DefinitionReader.readKept(text);
        Section whole = Section.compose(text, new ArrayList<>()).orElseThrow();
        List<Section> all = whole.sections("schedules");
        int place = 0;
        while (place < all.size()
                && !all.get(place).text("name", Job.LONGEST_NAME).equals(Optional.of(name))) {
            place++;
        }
        String edited = text;
        if (place < all.size()) {
            Span span =
                    all.size() == 1 ? whole.span("schedules") : all.get(place).span();
            edited = without(text, span);
        }
        List<Schedule> left = before.schedules().stream()
                .filter(schedule -> !schedule.name().equals(name))
                .toList();
        if (!isFine(edited, before, left)) {
            throw new InvalidException(
                    "schedules", "is written so that '" + name + "' cannot be taken out of it; edit the definition");
        }
        return edited;
    }

    private static boolean isFine(String edited, Job before, List<Schedule> left) {
        try {
            Job after = DefinitionReader.readKept(edited);
            return after.schedules().equals(left)
                    && after.name().equals(before.name())
                    && after.parameters().equals(before.parameters())
                    && after.rules().equals(before.rules());
        } catch (InvalidException e) {
            return false;
        }
    }

    private static String without(String text, Span span) {
        int from = text.offsetByCodePoints(0, span.from());
        int to = text.offsetByCodePoints(0, span.to());
        String lead = text.substring(text.lastIndexOf('\n', from - 1) + 1, from);
        if (lead.matches("\\s*(-\\s+)?")) {
            int begin = from - lead.length();
            int rest = text.indexOf('\n', to);
            String tail = text.substring(to, rest < 0 ? text.length() : rest);
            boolean wholeLine = to == 0
                    || text.charAt(to - 1) == '\n'
                    || text.substring(text.lastIndexOf('\n', to - 1) + 1, to).isBlank();
            int end = wholeLine
                    ? text.lastIndexOf('\n', to - 1) + 1
                    : tail.isBlank() || tail.strip().startsWith("#") ? rest + 1 : to;
            return text.substring(0, begin) + text.substring(Math.max(begin, end));
        }
        int after = to;
        while (after < text.length() && Character.isWhitespace(text.charAt(after))) {
            after++;
        }
        if (after < text.length() && text.charAt(after) == ',') {
            return text.substring(0, from) + text.substring(after + 1).stripLeading();
        }
        String head = text.substring(0, from).stripTrailing();
        return (head.endsWith(",") ? head.substring(0, head.length() - 1) : head) + text.substring(to);
    }
}
