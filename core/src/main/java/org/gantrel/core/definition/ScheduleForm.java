package org.gantrel.core.definition;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.CatchUp;
import org.gantrel.core.schedule.Shift;
import org.gantrel.core.text.Durations;
import org.gantrel.core.text.Words;
import org.gantrel.core.when.When;
import org.gantrel.core.when.WhenException;
import org.gantrel.core.yaml.Section;

/** Reads what a schedule says beside its rule: calendars, window, first and last day, catch-up. */
final class ScheduleForm {

    /** A deadline by the clock is in the night or the day that the start is in. */
    private static final Duration MOST_AHEAD = Duration.ofHours(18);

    private ScheduleForm() {}

    static Schedule read(Section form, String name, String when, ZoneId zone, Map<String, String> with) {
        Optional<LocalDate> from = CommonForm.date(form, "from");
        Optional<LocalDate> until = CommonForm.date(form, "until");
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
                CommonForm.duration(form, "window", "PT24H").orElse(Duration.ZERO),
                from,
                until,
                catchUp(form),
                form.has("over") ? CommonForm.name(form, "over", "the name of a roster") : "",
                deadline(form, when, zone));
    }

    /** A local time, or a length after the planned one. A time that is only reached on the next day is one too early. */
    private static Optional<Schedule.Deadline> deadline(Section form, String when, ZoneId zone) {
        Optional<String> text = form.text("deadline", 40);
        if (text.isEmpty()) {
            return Optional.empty();
        }
        if (!text.get().matches("\\d{1,2}:\\d{2}(:\\d{2})?")) {
            if (Durations.parse(text.get()).filter(length -> !length.isZero()).isEmpty()) {
                form.complain(
                        "deadline",
                        "'" + text.get()
                                + "': a local time such as \"05:30\", in quotes, or a length after the planned time, "
                                + Durations.FORM);
                return Optional.empty();
            }
            return CommonForm.duration(form, "deadline", "P30D")
                    .map(length -> new Schedule.Deadline(Optional.empty(), Optional.of(length)));
        }
        Optional<Schedule.Deadline> deadline = CommonForm.time(form, "deadline")
                .map(time -> new Schedule.Deadline(Optional.of(time), Optional.empty()));
        deadline.ifPresent(each -> firstTime(when, zone)
                .filter(first -> Duration.between(first.at(), each.of(first)).compareTo(MOST_AHEAD) > 0)
                .ifPresent(first -> form.complain(
                        "deadline",
                        text.get() + " is not after the start at "
                                + first.local().toLocalTime()
                                + ", so that it would be that of the next day; if that is meant, say how long: deadline: "
                                + Words.duration(Duration.between(first.at(), each.of(first))))));
        return deadline;
    }

    private static Optional<PlannedTime> firstTime(String when, ZoneId zone) {
        try {
            return When.parse(when).next(Instant.EPOCH, zone).map(at -> new PlannedTime(at, zone));
        } catch (WhenException e) {
            return Optional.empty();
        }
    }

    private static Schedule.Days days(Section form) {
        String calendar = form.text("calendar", 60).orElse("");
        String except = form.text("except", 60).orElse("");
        Shift shift =
                CommonForm.word(form, "shift", Shift.words()).flatMap(Shift::of).orElse(Shift.SKIP);
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
        CatchUp.Policy policy = CommonForm.word(missed.get(), "run", List.of("none", "latest", "each"))
                .flatMap(word -> CatchUp.Policy.of(word.equals("none") ? "record" : word))
                .orElse(CatchUp.Policy.RECORD);
        return new CatchUp(
                policy, CommonForm.duration(missed.get(), "within", "P366D").orElse(CatchUp.NONE.within()));
    }
}
