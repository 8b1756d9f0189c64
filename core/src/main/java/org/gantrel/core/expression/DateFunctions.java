package org.gantrel.core.expression;

import dev.cel.common.CelFunctionDecl;
import dev.cel.common.CelOverloadDecl;
import dev.cel.common.types.CelType;
import dev.cel.common.types.SimpleType;
import dev.cel.runtime.CelFunctionBinding;
import dev.cel.runtime.CelLateFunctionBindings;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Locale;
import java.util.function.UnaryOperator;
import java.util.stream.Stream;
import org.gantrel.core.when.DaySet;

/**
 * What expressions can do with dates beyond CEL itself. A local date or time is a CEL timestamp that reads the same in
 * UTC, so that arithmetic on it never meets a change of the clock.
 */
final class DateFunctions {

    private static final int FARTHEST_BACK = 4_000;

    /** What a calendar takes that has hardly a working day. */
    private static final int WORKING_DAY = 20_000;

    private static final CelType DATE = SimpleType.TIMESTAMP;

    private DateFunctions() {}

    private record Shift(String name, UnaryOperator<LocalDate> shift) {}

    private static final List<Shift> SHIFTS = List.of(
            new Shift("first_of_month", date -> date.withDayOfMonth(1)),
            new Shift("last_of_month", date -> date.with(TemporalAdjusters.lastDayOfMonth())),
            new Shift("first_of_quarter", DateFunctions::firstOfQuarter),
            new Shift(
                    "last_of_quarter",
                    date -> firstOfQuarter(date).plusMonths(3).minusDays(1)),
            new Shift("first_of_year", date -> date.withDayOfYear(1)),
            new Shift("last_of_year", date -> date.with(TemporalAdjusters.lastDayOfYear())));

    /** The names of those functions that ask a calendar, which is known only when a value is worked out. */
    static final List<String> LATE = List.of("next_working_day", "previous_working_day");

    static List<CelFunctionDecl> declarations() {
        Stream<CelFunctionDecl> shifts =
                SHIFTS.stream().map(shift -> declare(shift.name(), shift.name(), DATE, List.of(DATE)));
        Stream<CelFunctionDecl> others = Stream.of(
                declare("days", "days_int", SimpleType.DURATION, List.of(SimpleType.INT)),
                declare("hours", "hours_int", SimpleType.DURATION, List.of(SimpleType.INT)),
                declare("minutes", "minutes_int", SimpleType.DURATION, List.of(SimpleType.INT)),
                declare("plus_months", "plus_months", DATE, List.of(DATE, SimpleType.INT)),
                declare("date", "date_text", DATE, List.of(SimpleType.STRING)),
                declare("format", "format_date", SimpleType.STRING, List.of(DATE, SimpleType.STRING)));
        Stream<CelFunctionDecl> working = LATE.stream()
                .map(name -> CelFunctionDecl.newFunctionDeclaration(
                        name,
                        CelOverloadDecl.newGlobalOverload(name + "_usual", DATE, List.of(DATE)),
                        CelOverloadDecl.newGlobalOverload(name + "_of", DATE, List.of(DATE, SimpleType.STRING))));
        return Stream.of(shifts, others, working).flatMap(each -> each).toList();
    }

    static List<CelFunctionBinding> bindings() {
        Stream<CelFunctionBinding> shifts = SHIFTS.stream()
                .map(shift -> CelFunctionBinding.from(
                        shift.name(), Instant.class, at -> instant(shift.shift().apply(date(at)))));
        Stream<CelFunctionBinding> others = Stream.of(
                CelFunctionBinding.from("days_int", Long.class, Duration::ofDays),
                CelFunctionBinding.from("hours_int", Long.class, Duration::ofHours),
                CelFunctionBinding.from("minutes_int", Long.class, Duration::ofMinutes),
                CelFunctionBinding.from("plus_months", Instant.class, Long.class, (at, months) -> local(at)
                        .plusMonths(months)
                        .toInstant(ZoneOffset.UTC)),
                CelFunctionBinding.from("date_text", String.class, DateFunctions::read),
                CelFunctionBinding.from("format_date", Instant.class, String.class, DateFunctions::format));
        return Stream.concat(shifts, others).toList();
    }

    /** The functions that ask calendars. */
    static CelLateFunctionBindings working(NamedDays calendars) {
        return CelLateFunctionBindings.from(
                CelFunctionBinding.from(
                        "next_working_day_usual", Instant.class, at -> next(at, DaySet.MONDAY_TO_FRIDAY)),
                CelFunctionBinding.from(
                        "previous_working_day_usual", Instant.class, at -> previous(at, DaySet.MONDAY_TO_FRIDAY)),
                CelFunctionBinding.from(
                        "next_working_day_of",
                        Instant.class,
                        String.class,
                        (at, name) -> next(at, calendars.days(name))),
                CelFunctionBinding.from(
                        "previous_working_day_of",
                        Instant.class,
                        String.class,
                        (at, name) -> previous(at, calendars.days(name))));
    }

    private static CelFunctionDecl declare(String name, String id, CelType gives, List<CelType> takes) {
        return CelFunctionDecl.newFunctionDeclaration(name, CelOverloadDecl.newGlobalOverload(id, gives, takes));
    }

    private static Instant next(Instant at, DaySet days) {
        Work.charge(WORKING_DAY);
        return day(days.next(date(at).toEpochDay() + 1), at, "after");
    }

    private static Instant previous(Instant at, DaySet days) {
        Work.charge(WORKING_DAY);
        return day(days.previous(date(at).toEpochDay() - 1, FARTHEST_BACK), at, "before");
    }

    private static Instant day(long day, Instant from, String where) {
        if (day == DaySet.NEVER) {
            throw new ExpressionException("there is no working day " + where + " " + date(from));
        }
        return instant(LocalDate.ofEpochDay(day));
    }

    private static LocalDate firstOfQuarter(LocalDate date) {
        return LocalDate.of(date.getYear(), date.getMonth().firstMonthOfQuarter(), 1);
    }

    private static Instant read(String text) {
        try {
            return text.length() > 10
                    ? LocalDateTime.parse(text).toInstant(ZoneOffset.UTC)
                    : instant(LocalDate.parse(text));
        } catch (DateTimeException e) {
            throw new ExpressionException("'" + text + "' is no date such as 2026-11-23 or 2026-11-23T07:30");
        }
    }

    private static String format(Instant at, String pattern) {
        try {
            return local(at).format(DateTimeFormatter.ofPattern(pattern, Locale.ENGLISH));
        } catch (IllegalArgumentException | DateTimeException e) {
            throw new ExpressionException(
                    "'" + pattern + "' is no pattern for a date; yyyy-MM-dd or d MMMM yyyy would be");
        }
    }

    private static LocalDateTime local(Instant at) {
        return LocalDateTime.ofInstant(at, ZoneOffset.UTC);
    }

    private static LocalDate date(Instant at) {
        return local(at).toLocalDate();
    }

    private static Instant instant(LocalDate date) {
        return date.atStartOfDay().toInstant(ZoneOffset.UTC);
    }
}
