package org.gantrel.core.definition;

import java.time.Duration;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Schedule;
import org.gantrel.core.schedule.CatchUp;
import org.gantrel.core.schedule.Shift;
import org.gantrel.core.yaml.Section;

/** Reads what a schedule says beside its rule: calendars, window, first and last day, catch-up. */
final class ScheduleForm {

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
                form.has("over") ? CommonForm.name(form, "over", "the name of a roster") : "");
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
