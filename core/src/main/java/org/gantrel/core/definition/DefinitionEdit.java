package org.gantrel.core.definition;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.notification.DutyList;
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

    /**
     * The definition of a duty list with more people who stand in.
     *
     * @throws InvalidException where the text is written so that nothing can be added to it safely
     */
    public static String withCovers(String text, List<DutyList.Cover> more) {
        var before = (DutyList) DefinitionReader.readTelling(text).telling();
        Section whole = Section.compose(text, new ArrayList<>()).orElseThrow();
        List<Section> all = whole.sections("covers");
        List<String> written = more.stream()
                .map(cover ->
                        "{ from: %s, until: %s, person: %s }".formatted(cover.from(), cover.until(), cover.person()))
                .toList();
        String edited;
        if (!all.isEmpty()) {
            edited = after(text, all.get(all.size() - 1).span(), written);
        } else if (whole.has("covers")) {
            Span span = whole.span("covers");
            String old = text.substring(text.offsetByCodePoints(0, span.from()), text.offsetByCodePoints(0, span.to()));
            String kept = old.substring(old.stripTrailing().length());
            edited = text.substring(0, text.offsetByCodePoints(0, span.from())) + "covers: [ "
                    + String.join(", ", written) + " ]" + kept
                    + text.substring(text.offsetByCodePoints(0, span.to()));
        } else {
            edited = text.stripTrailing() + "\ncovers:\n  - " + String.join("\n  - ", written) + "\n";
        }
        if (!isFine(edited, before.with(more))) {
            throw new InvalidException("covers", "is written so that nothing can be added to it; edit the definition");
        }
        return edited;
    }

    private static boolean isFine(String edited, DutyList wanted) {
        try {
            return DefinitionReader.readTelling(edited).telling().equals(wanted);
        } catch (InvalidException e) {
            return false;
        }
    }

    /** Adds items behind the last one of a list, in the way in which that is written. */
    private static String after(String text, Span last, List<String> more) {
        int from = text.offsetByCodePoints(0, last.from());
        int to = text.offsetByCodePoints(0, last.to());
        int end = from + text.substring(from, to).stripTrailing().length();
        String lead = text.substring(text.lastIndexOf('\n', from - 1) + 1, from);
        if (!lead.matches("\\s*-\\s+")) {
            return text.substring(0, end) + ", " + String.join(", ", more) + text.substring(end);
        }
        int line = text.indexOf('\n', end);
        int at = line < 0 ? text.length() : line;
        return text.substring(0, at) + "\n" + lead + String.join("\n" + lead, more) + text.substring(at);
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
