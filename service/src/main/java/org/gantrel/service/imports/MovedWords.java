package org.gantrel.service.imports;

import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.List;
import java.util.Locale;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.service.calendar.CalendarUse;

/** What a calendar changes of schedules, in words. */
final class MovedWords {

    private static final DateTimeFormatter LOCAL = DateTimeFormatter.ofPattern("uuuu-MM-dd HH:mm", Locale.ROOT);

    private MovedWords() {}

    /** What a calendar changes of a schedule: the first start that falls away, and the first that comes. */
    static String sentence(CalendarUse.Moved moved) {
        String who = moved.job().isEmpty()
                ? "a schedule of the team " + moved.team()
                : "schedule " + moved.schedule() + " of " + moved.job();
        ZoneId zone = ZoneId.of(moved.zone());
        return Stream.of(times("would not start", moved.before(), zone), times("would start", moved.then(), zone))
                .filter(part -> !part.isEmpty())
                .collect(Collectors.joining(", and ", who + " ", ""));
    }

    private static String times(String words, List<Instant> times, ZoneId zone) {
        return times.isEmpty()
                ? ""
                : words + " at " + LOCAL.format(times.get(0).atZone(zone)) + " (" + zone.getId() + ")"
                        + (times.size() == 1 ? "" : " and " + (times.size() - 1) + " more");
    }
}
