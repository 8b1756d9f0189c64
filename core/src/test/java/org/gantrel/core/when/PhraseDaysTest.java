package org.gantrel.core.when;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.time.temporal.IsoFields;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

/** Reads phrases a second time, day by day and without any cleverness, and compares. */
@DisplayName("The days of a phrase")
class PhraseDaysTest {

    private static final LocalDate FIRST = LocalDate.of(2025, 1, 1);
    private static final LocalDate LAST = LocalDate.of(2028, 12, 31);
    private static final List<LocalDate> DAYS =
            FIRST.minusYears(2).datesUntil(LAST.plusYears(2)).toList();

    @Test
    @DisplayName("are those that a day-by-day reading gives, for thousands of phrases")
    void agreeWithANaiveReading() {
        var random = new Random(47);
        for (int i = 0; i < 2_500; i++) {
            Phrase made = PhraseMaker.any(random);
            // one time a day, and no end but the span that is looked at
            var phrase = new Phrase(
                    new Rhythm.At(List.of(600)),
                    made.choice(),
                    new Bounds(made.bounds().from().or(() -> Optional.of(FIRST)), Optional.of(LAST), Optional.empty()));
            assertThat(found(phrase)).as(phrase.phrase()).isEqualTo(naive(phrase));
        }
    }

    private static Set<LocalDate> found(Phrase phrase) {
        var found = new TreeSet<LocalDate>();
        Optional<Instant> next = phrase.next(Instant.EPOCH, ZoneOffset.UTC);
        while (next.isPresent()) {
            found.add(next.get().atOffset(ZoneOffset.UTC).toLocalDate());
            next = phrase.next(next.get(), ZoneOffset.UTC);
        }
        return found;
    }

    private static Set<LocalDate> naive(Phrase phrase) {
        LocalDate from = phrase.bounds().from().orElseThrow();
        return days(phrase.choice(), from)
                .filter(day -> !day.isBefore(from) && !day.isAfter(LAST))
                .collect(Collectors.toCollection(TreeSet::new));
    }

    private static Stream<LocalDate> days(DayChoice choice, LocalDate from) {
        if (choice instanceof DayChoice.Once once) {
            return Stream.of(once.date());
        }
        if (choice instanceof DayChoice.EveryDays every) {
            return DAYS.stream().filter(day -> ChronoUnit.DAYS.between(from, day) % every.every() == 0);
        }
        if (choice instanceof DayChoice.Weekly weekly) {
            return DAYS.stream()
                    .filter(day -> isIn(weekly.weekdays(), day.getDayOfWeek().getValue()))
                    .filter(day -> isIn(weekly.months(), day.getMonthValue()));
        }
        if (choice instanceof DayChoice.Working working) {
            return DAYS.stream()
                    .filter(day -> isWorking(day)
                            || isIn(working.weekdays(), day.getDayOfWeek().getValue()))
                    .filter(day -> isIn(working.months(), day.getMonthValue()));
        }
        var period = (DayChoice.InPeriod) choice;
        return DAYS.stream().collect(Collectors.groupingBy(day -> index(period.period(), day))).entrySet().stream()
                .filter(entry -> (entry.getKey() - index(period.period(), from)) % period.every() == 0)
                .filter(entry -> entry.getKey() >= index(period.period(), from) || period.every() == 1)
                .filter(entry -> period.period() != Period.MONTH
                        || isIn(period.months(), entry.getValue().get(0).getMonthValue()))
                .flatMap(
                        entry -> period.items().stream()
                                .flatMap(item -> of(item.unshifted(), sorted(entry.getValue()))
                                        .map(day -> shifted(day, item.shift()))
                                        .stream()));
    }

    private static List<LocalDate> sorted(List<LocalDate> days) {
        return days.stream().sorted().toList();
    }

    private static boolean isIn(int mask, int number) {
        return (mask >>> number - 1 & 1) == 1;
    }

    private static long index(Period period, LocalDate day) {
        return switch (period) {
            case WEEK -> ChronoUnit.WEEKS.between(LocalDate.of(1969, 12, 29), day);
            case MONTH -> ChronoUnit.MONTHS.between(LocalDate.of(1970, 1, 1), day);
            case QUARTER -> (day.getYear() - 1970L) * 4 + day.get(IsoFields.QUARTER_OF_YEAR) - 1;
            case YEAR -> day.getYear() - 1970L;
        };
    }

    /** The day of an item among all days of its period. */
    private static Optional<LocalDate> of(Item item, List<LocalDate> period) {
        if (item instanceof Item.Weekday weekday) {
            return at(period, day -> day.getDayOfWeek().getValue() == weekday.weekday() + 1, 1);
        }
        if (item instanceof Item.DayNumber number) {
            return at(period, day -> true, number.number());
        }
        if (item instanceof Item.BeforeLast last) {
            return at(period, day -> true, -1 - last.days());
        }
        if (item instanceof Item.Nth nth) {
            return at(period, day -> day.getDayOfWeek().getValue() == nth.weekday() + 1, nth.place());
        }
        if (item instanceof Item.NthWorking nth) {
            return at(period, PhraseDaysTest::isWorking, nth.place());
        }
        if (item instanceof Item.NthOfMondayToFriday nth) {
            return at(period, PhraseDaysTest::isWorking, nth.place());
        }
        if (item instanceof Item.Nearest nearest) {
            return at(period, day -> true, nearest.number()).map(day -> IntStream.of(0, -1, 1, -2, 2)
                    .mapToObj(day::plusDays)
                    .filter(PhraseDaysTest::isWorking)
                    .filter(period::contains)
                    .findFirst()
                    .orElseThrow());
        }
        return Optional.of(easter(period.get(0).getYear()));
    }

    private static Optional<LocalDate> at(List<LocalDate> period, Predicate<LocalDate> kind, int place) {
        List<LocalDate> all = period.stream().filter(kind).toList();
        int index = place > 0 ? place - 1 : all.size() + place;
        return index >= 0 && index < all.size() ? Optional.of(all.get(index)) : Optional.empty();
    }

    private static LocalDate shifted(LocalDate day, DayShift shift) {
        if (!shift.working()) {
            return day.plusDays(shift.days());
        }
        LocalDate at = day;
        for (int left = Math.abs(shift.days()); left > 0; ) {
            at = at.plusDays(Integer.signum(shift.days()));
            left -= isWorking(at) ? 1 : 0;
        }
        return at;
    }

    private static boolean isWorking(LocalDate day) {
        return day.getDayOfWeek().compareTo(DayOfWeek.SATURDAY) < 0;
    }

    /** Easter Sundays as almanacs list them. */
    private static LocalDate easter(int year) {
        List<String> listed = List.of(
                "2023-04-09",
                "2024-03-31",
                "2025-04-20",
                "2026-04-05",
                "2027-03-28",
                "2028-04-16",
                "2029-04-01",
                "2030-04-21");
        return new ArrayList<>(listed)
                .stream()
                        .map(LocalDate::parse)
                        .filter(day -> day.getYear() == year)
                        .findFirst()
                        .orElseThrow();
    }

    @Test
    @DisplayName("find Easter where almanacs have it, over four centuries")
    void findEaster() {
        List<String> known = List.of(
                "1818-03-22",
                "1886-04-25",
                "1943-04-25",
                "1961-04-02",
                "2000-04-23",
                "2008-03-23",
                "2011-04-24",
                "2038-04-25",
                "2049-04-18",
                "2100-03-28",
                "2160-03-23",
                "2285-03-22");
        for (String text : known) {
            LocalDate day = LocalDate.parse(text);
            long found = new Item.Easter()
                    .in(
                            day.withDayOfYear(1).toEpochDay(),
                            day.withDayOfYear(day.lengthOfYear()).toEpochDay(),
                            DaySet.EVERY_DAY);
            assertThat(LocalDate.ofEpochDay(found)).isEqualTo(day);
        }
    }

    @Test
    @DisplayName("may be told without a time, for calendars")
    void mayBeToldWithoutATime() {
        assertThat(DayPhrase.parse("25 December").words()).isEqualTo("day 25 of December");
        assertThat(DayPhrase.parse("Last Monday of May").words()).isEqualTo("last Monday of May");
        assertThat(DayPhrase.parse("2026-12-24").words()).isEqualTo("2026-12-24");
        assertThat(DayPhrase.parse("every Sunday in July").words()).isEqualTo("every Sunday in July");
        DaySet days = DayPhrase.ofRule("DTSTART:20260104 RRULE:FREQ=WEEKLY;INTERVAL=2")
                .days();
        assertThat(LocalDate.ofEpochDay(days.next(LocalDate.of(2026, 1, 5).toEpochDay())))
                .isEqualTo(LocalDate.of(2026, 1, 18));
        assertThat(days.holds(LocalDate.of(2026, 1, 11))).isFalse();
        assertThat(days.previous(LocalDate.of(2026, 1, 17).toEpochDay(), 30))
                .isEqualTo(LocalDate.of(2026, 1, 4).toEpochDay());
    }
}
