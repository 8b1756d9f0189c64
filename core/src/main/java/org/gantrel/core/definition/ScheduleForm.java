package org.gantrel.core.definition;

import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.format.DateTimeParseException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.CatchUp;
import org.gantrel.core.schedule.Shift;
import org.gantrel.core.text.Nearest;
import org.gantrel.core.yaml.Section;

/** Reads what a schedule says beside its rule: calendars, window, first and last day, catch-up. */
final class ScheduleForm {

    private static final Duration LONGEST_WINDOW = Duration.ofHours(24);
    private static final Duration OLDEST = Duration.ofDays(366);

    private ScheduleForm() {}

    static Schedule read(Section form, String name, String when, ZoneId zone, Map<String, String> with) {
        Optional<LocalDate> from = date(form, "from");
        Optional<LocalDate> until = date(form, "until");
        if (from.isPresent() && until.isPresent() && until.get().isBefore(from.get())) {
            form.complain("until", until.get() + " is before " + from.get() + ", its first day");
        }
        return new Schedule(
                name,
                when,
                zone,
                form.yes("on", true),
                with,
                days(form),
                duration(form, "window", LONGEST_WINDOW, Duration.ZERO),
                from,
                until,
                catchUp(form));
    }

    private static Schedule.Days days(Section form) {
        String calendar = form.text("calendar", 60).orElse("");
        String except = form.text("except", 60).orElse("");
        Shift shift = word(form, "shift", Shift.words()).flatMap(Shift::of).orElse(Shift.SKIP);
        if (form.has("shift") && calendar.isEmpty() && except.isEmpty()) {
            form.complain("shift", "goes with 'calendar' or 'except': without one there is no wrong day");
        }
        return new Schedule.Days(calendar, except, shift);
    }

    private static CatchUp catchUp(Section form) {
        Optional<Section> missed = form.section("missed");
        if (missed.isEmpty()) {
            return CatchUp.NONE;
        }
        missed.get().knowing("run", "within");
        CatchUp.Policy policy = word(missed.get(), "run", List.of("none", "latest", "each"))
                .flatMap(word -> CatchUp.Policy.of(word.equals("none") ? "record" : word))
                .orElse(CatchUp.Policy.RECORD);
        return new CatchUp(policy, duration(missed.get(), "within", OLDEST, CatchUp.NONE.within()));
    }

    private static Optional<String> word(Section form, String key, List<String> words) {
        Optional<String> word = form.text(key, 40);
        if (word.isPresent() && !words.contains(word.get())) {
            form.complain(key, "'" + word.get() + "': " + String.join(", ", words) + Nearest.hint(word.get(), words));
            return Optional.empty();
        }
        return word;
    }

    private static Duration duration(Section form, String key, Duration most, Duration fallback) {
        Optional<String> text = form.text(key, 40);
        if (text.isEmpty()) {
            return fallback;
        }
        try {
            Duration duration = Duration.parse(text.get());
            if (duration.compareTo(Duration.ofSeconds(1)) >= 0 && duration.compareTo(most) <= 0) {
                return duration;
            }
        } catch (DateTimeParseException e) {
            // the complaint below says what would be right
        }
        form.complain(key, "'" + text.get() + "': a duration from PT1S to " + most + ", such as PT30M");
        return fallback;
    }

    private static Optional<LocalDate> date(Section form, String key) {
        Optional<String> text = form.text(key, 40);
        try {
            return text.map(LocalDate::parse);
        } catch (DateTimeParseException e) {
            form.complain(key, "'" + text.get() + "': a date such as 2026-12-24 is expected");
            return Optional.empty();
        }
    }
}
