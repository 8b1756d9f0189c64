package org.gantrel.core.schedule;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.TreeSet;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.IntStream;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("A plan")
class PlanTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
    private static final Instant NOW = Instant.parse("2027-05-10T00:00:00Z");
    private static final CalendarDays BANK = days(
            """
            calendar: bank
            team: finance
            days: weekdays
            hours: 07:00-18:00
            closed: [ { on: 2027-05-17, label: National day }, { from: 2027-05-31, to: 2027-06-02, label: Stocktaking } ]
            """);

    private static CalendarDays days(String text) {
        return new CalendarDays(DefinitionReader.readCalendar(text).calendar(), name -> null);
    }

    private static Plan plan(String when, DayFilter keep, Shift shift) {
        return new Plan(When.parse(when), OSLO, keep, shift, Duration.ZERO, Optional.empty(), Optional.empty());
    }

    private static DayFilter to(CalendarDays days) {
        return new DayFilter(Optional.of(days), Optional.empty());
    }

    @ParameterizedTest(name = "{0}, {1}: {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "every Monday at 09:00      | following          | 2027-05-10 2027-05-18 2027-05-24 2027-06-03 2027-06-07",
                "every Monday at 09:00      | preceding          | 2027-05-10 2027-05-14 2027-05-24 2027-05-28 2027-06-07",
                "every Monday at 09:00      | modified-following | 2027-05-10 2027-05-18 2027-05-24 2027-05-28 2027-06-07",
                "every Monday at 09:00      | nearest            | 2027-05-10 2027-05-18 2027-05-24 2027-06-03 2027-06-07",
                "every Monday at 09:00      | skip               | 2027-05-10 2027-05-24 2027-06-07 2027-06-14 2027-06-21"
            })
    @DisplayName("moves an occurrence off a wrong day as it is told to")
    void movesOffWrongDays(String when, String shift, String dates) {
        Plan plan = plan(when, to(BANK), Shift.of(shift).orElseThrow());
        assertThat(plan.nextStarts(NOW, 5))
                .extracting(start -> start.at().atZone(OSLO).toLocalDate().toString())
                .containsExactly(dates.split(" "));
    }

    @Test
    @DisplayName("says of each occurrence what became of it and why")
    void saysWhy() {
        Plan skips = plan("every day at 06:30 and 09:00", to(BANK), Shift.SKIP);
        List<Plan.Occurrence> found = new ArrayList<>();
        Instant at = Instant.parse("2027-05-16T12:00:00Z");
        for (int i = 0; i < 4; i++) {
            found.add(skips.next(at).orElseThrow());
            at = found.get(i).at();
        }
        assertThat(found)
                .extracting(one -> one.skipped().orElse("starts"))
                .containsExactly(
                        "2027-05-17 is no day of bank (National day)",
                        "2027-05-17 is no day of bank (National day)",
                        "06:30 is outside the hours of bank, 07:00-18:00",
                        "starts");
        Plan off = plan("every day at 09:00", new DayFilter(Optional.empty(), Optional.of(BANK)), Shift.SKIP);
        assertThat(off.nextStarts(NOW, 2))
                .extracting(start -> start.at().toString())
                .containsExactly("2027-05-15T07:00:00Z", "2027-05-16T07:00:00Z");
        Plan moved = plan("every Monday at 09:00", to(BANK), Shift.FOLLOWING);
        assertThat(moved.nextStarts(NOW, 2).get(1).movedFrom()).contains(LocalDate.of(2027, 5, 17));
    }

    @Test
    @DisplayName("gives what moving every occurrence by hand gives")
    void agreesWithMovingByHand() {
        var random = new Random(43);
        for (int i = 0; i < 400; i++) {
            String when = List.of(
                            "every day at 09:00",
                            "every Monday and Friday at 08:30 and 17:00",
                            "day 1 and 17 of every month at 10:00",
                            "last day of every month at 11:00",
                            "every 9 days at 12:00 from 2027-01-01")
                    .get(random.nextInt(5));
            Shift shift = Shift.values()[1 + random.nextInt(4)];
            Instant from = NOW.plus(Duration.ofHours(random.nextInt(4000)));
            Plan plan = plan(when, to(BANK), shift);
            assertThat(plan.nextStarts(from, 12).stream()
                            .map(Plan.Occurrence::at)
                            .toList())
                    .as("%s, %s from %s", when, shift, from)
                    .isEqualTo(byHand(plan, from).stream().limit(12).toList());
        }
    }

    private static List<Instant> byHand(Plan plan, Instant from) {
        var found = new TreeSet<Instant>();
        plan.timetable().next(from.minus(Duration.ofDays(40)), OSLO, 400).forEach(at -> {
            LocalDateTime local = at.atZone(OSLO).toLocalDateTime();
            long target = plan.shift().target(local.toLocalDate().toEpochDay(), BANK);
            found.add(LocalDate.ofEpochDay(target)
                    .atTime(local.toLocalTime())
                    .atZone(OSLO)
                    .toInstant());
        });
        return found.stream().filter(at -> at.isAfter(from)).toList();
    }

    @Test
    @DisplayName("gives what a day-by-day reading gives, whatever its rule, its days, its bounds and its shift")
    void agreesWithANaiveReading() {
        var random = new Random(53);
        List<String> rules = List.of(
                "every day at 09:00",
                "every 12 hours",
                "last working day of every month at 17:00",
                "every 90 minutes between 22:00 and 02:00 on Friday",
                "every 40 minutes between 21:30 and 00:30 on day 30 and 31 of every month",
                "every Sunday at 02:30",
                "every hour",
                "DTSTART;TZID=Europe/Oslo:20261201T013000 RRULE:FREQ=HOURLY;INTERVAL=7;COUNT=900");
        for (int i = 0; i < 300; i++) {
            var open = new TreeSet<Long>();
            LocalDate first = LocalDate.of(2026, 11, 1);
            for (long day = first.toEpochDay(); day < first.toEpochDay() + 500; ) {
                long until = day + 1 + random.nextInt(6);
                for (; day < until; day++) {
                    open.add(day);
                }
                day += random.nextInt(random.nextInt(12) == 0 ? 70 : 5);
            }
            CalendarDays days = days("calendar: odd\nteam: finance\ndays: none\nopen:\n"
                    + open.stream()
                            .map(day -> "  - { on: " + LocalDate.ofEpochDay(day) + " }\n")
                            .reduce("", String::concat));
            String when = rules.get(random.nextInt(rules.size()));
            LocalDate from = first.plusDays(20 + random.nextInt(150));
            LocalDate until = from.plusDays(random.nextInt(200));
            var plan = new Plan(
                    When.parse(when),
                    OSLO,
                    to(days),
                    Shift.values()[random.nextInt(5)],
                    Duration.ZERO,
                    random.nextBoolean() ? Optional.of(from) : Optional.empty(),
                    Optional.of(until));
            Instant after = from.plusDays(random.nextInt(40) - 20)
                    .atTime(random.nextInt(24), 10)
                    .atZone(OSLO)
                    .toInstant();
            assertThat(plan.nextStarts(after, 25).stream()
                            .map(Plan.Occurrence::at)
                            .toList())
                    .as("%s after %s", plan, after)
                    .isEqualTo(
                            naive(plan, days, first, after).stream().limit(25).toList());
            findsTheLast(plan, after, random);
        }
    }

    /** The last one before a moment is the one that going from one to the next comes to. */
    private static void findsTheLast(Plan plan, Instant after, Random random) {
        Instant before = after.plusSeconds(random.nextInt(40 * 24 * 3_600));
        Optional<Plan.Occurrence> last = Optional.empty();
        Optional<Plan.Occurrence> next = plan.next(after);
        while (next.isPresent() && next.get().at().isBefore(before)) {
            last = next;
            next = plan.next(next.get().at());
        }
        assertThat(plan.last(before, after)).isEqualTo(last);
    }

    /** Each occurrence of the bare rule goes to its day, which has to lie between the first and the last day. */
    private static List<Instant> naive(Plan plan, CalendarDays days, LocalDate first, Instant after) {
        var found = new TreeSet<Instant>();
        Timetable rule = plan.timetable();
        Optional<Instant> next = rule.next(first.atStartOfDay(OSLO).toInstant(), OSLO);
        Instant end =
                plan.until().orElseThrow().plusDays(100).atStartOfDay(OSLO).toInstant();
        for (; next.isPresent() && next.get().isBefore(end); next = rule.next(next.get(), OSLO)) {
            LocalDateTime local = wanted(next.get());
            boolean night = rule.phrase().contains("between") && local.getHour() < 12;
            LocalDate day = local.toLocalDate().minusDays(night ? 1 : 0);
            long target = plan.shift().target(day.toEpochDay(), days);
            if (days.holds(day)) {
                target = day.toEpochDay();
            }
            LocalDate lands = LocalDate.ofEpochDay(Math.min(target, 100_000));
            if (target < 100_000
                    && !lands.isAfter(plan.until().get())
                    && (plan.from().isEmpty() || !lands.isBefore(plan.from().get()))) {
                found.add(
                        lands.equals(day)
                                ? next.get()
                                : local.plusDays(lands.toEpochDay() - day.toEpochDay())
                                        .atZone(OSLO)
                                        .toInstant());
            }
        }
        return found.stream().filter(at -> at.isAfter(after)).toList();
    }

    /** The local time that a rule wanted; the rules here want 02:30 alone in the gap of spring, or the whole hours in it. */
    private static LocalDateTime wanted(Instant at) {
        LocalDateTime local = at.atZone(OSLO).toLocalDateTime();
        return local.equals(LocalDateTime.of(2027, 3, 28, 3, 30)) ? local.minusHours(1) : local;
    }

    @Test
    @DisplayName("holds from its first to its last day, and starts at its own place in its window")
    void holdsAndSpreads() {
        Duration place = Plan.placeIn(Duration.ofMinutes(30), "settle/nightly");
        assertThat(place)
                .isLessThan(Duration.ofMinutes(30))
                .isEqualTo(Plan.placeIn(Duration.ofMinutes(30), "settle/nightly"));
        assertThat(Plan.placeIn(Duration.ofMinutes(30), "settle/other")).isNotEqualTo(place);
        var plan = new Plan(
                When.parse("every day at 02:00"),
                OSLO,
                DayFilter.ANY_DAY,
                Shift.SKIP,
                place,
                Optional.of(LocalDate.of(2027, 5, 20)),
                Optional.of(LocalDate.of(2027, 5, 21)));
        assertThat(plan.nextStarts(NOW, 9))
                .extracting(Plan.Occurrence::at)
                .containsExactly(
                        Instant.parse("2027-05-20T00:00:00Z").plus(place),
                        Instant.parse("2027-05-21T00:00:00Z").plus(place));
    }

    @ParameterizedTest(name = "{0}: {1}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "0 6 30 2 *                      | it never comes",
                "every day at 06:00 until 2027-01-31 | it never comes round again",
                "0 6 29 2 *                      | 29 February comes in leap years only, next on 2028-02-29",
                "day 31 of every month at 06:00  | day 31 never comes in February, April, June, September and November; the last day of a month is 'last day'",
                "every 5 minutes                 | it starts again after 5 min, and the job usually takes 10 min",
                "every day at 02:30              | 2028-03-26 02:30 does not exist in Europe/Oslo: clocks go forward; it starts at 03:30",
                "every Sunday at 02:30           | 2027-10-31 02:30 comes twice in Europe/Oslo: clocks go back; it starts the first time"
            })
    @DisplayName("warns of what a person should know before it is saved")
    void warns(String when, String caution) {
        assertThat(Cautions.of(plan(when, DayFilter.ANY_DAY, Shift.SKIP), NOW, Optional.of(Duration.ofMinutes(10))))
                .anySatisfy(found -> assertThat(found).isEqualTo(caution));
    }

    @Test
    @DisplayName(
            "warns of schedules that start together, of no more than can be read, and of what there was no time for")
    void warnsOfSeveral() {
        Plan hourly = plan("every hour", DayFilter.ANY_DAY, Shift.SKIP);
        Plan daily = plan("every day at 09:00", DayFilter.ANY_DAY, Shift.SKIP);
        assertThat(Cautions.ofAll(
                        List.of(new Cautions.Named("one", hourly), new Cautions.Named("two", daily)),
                        NOW,
                        Optional.empty(),
                        () -> false))
                .containsExactly("schedules one and two both start at 2027-05-10T07:00:00Z");
        List<Cautions.Named> many = IntStream.range(0, 500)
                .mapToObj(i -> new Cautions.Named("n" + i, hourly))
                .toList();
        assertThat(Cautions.ofAll(many, NOW, Optional.empty(), () -> false))
                .hasSize(21)
                .last()
                .isEqualTo("124730 more pairs of its schedules start together");
        var looks = new AtomicInteger();
        assertThat(Cautions.ofAll(many, NOW, Optional.empty(), () -> looks.getAndIncrement() == 1))
                .containsExactly("schedule n1 and 498 others were not looked at for oddities: that takes too long");
    }

    @Test
    @DisplayName(
            "finds the same starts as going from one occurrence to the next, also through hours, gaps and overlaps")
    void findsWhatGoingOneByOneFinds() {
        var random = new Random(59);
        for (int i = 0; i < 80; i++) {
            String when = List.of(
                            "every 10 minutes",
                            "every 90 minutes",
                            "every 50 minutes between 22:00 and 02:00 on weekdays",
                            "every Sunday at 02:30 and 08:05",
                            "every 20 minutes between 01:00 and 04:00")
                    .get(random.nextInt(5));
            int opens = random.nextInt(23 * 60);
            int closes = opens + 1 + random.nextInt(Math.min(240, 24 * 60 - opens - 1));
            CalendarDays days = days("calendar: odd\nteam: finance\ndays: "
                    + List.of("weekdays", "Sunday", "every day").get(random.nextInt(3)) + "\nhours: "
                    + "%02d:%02d-%02d:%02d\n".formatted(opens / 60, opens % 60, closes / 60, closes % 60));
            var plan = new Plan(
                    When.parse(when),
                    OSLO,
                    to(days),
                    Shift.values()[random.nextInt(5)],
                    Duration.ofSeconds(random.nextInt(3) * 100L),
                    Optional.empty(),
                    Optional.empty());
            Instant from = Instant.parse(random.nextBoolean() ? "2027-03-26T12:00:00Z" : "2027-10-29T12:00:00Z")
                    .plusSeconds(random.nextInt(200_000));
            Instant until = from.plus(Duration.ofDays(4));
            var oneByOne = new ArrayList<Instant>();
            for (Optional<Plan.Occurrence> next = plan.next(from);
                    next.isPresent() && next.get().at().isBefore(until);
                    next = plan.next(next.get().at())) {
                if (next.get().starts()) {
                    oneByOne.add(next.get().at());
                }
            }
            assertThat(plan.nextStarts(from, 600).stream()
                            .map(Plan.Occurrence::at)
                            .filter(at -> at.isBefore(until))
                            .toList())
                    .as("%s from %s, hours %d to %d", plan, from, opens, closes)
                    .isEqualTo(oneByOne);
        }
    }

    @Test
    @DisplayName(
            "of a dense rule finds the few starts that its calendar leaves, or says that it gave up; a quarter is not cut short")
    void isNotLostInDenseRules() {
        CalendarDays mondays = days("calendar: m\nteam: finance\ndays: Monday\nhours: 08:00-08:01\n");
        Plan skips = plan("every minute", to(mondays), Shift.SKIP);
        assertThat(skips.nextStarts(NOW, 60))
                .hasSize(60)
                .allMatch(start -> start.at().atZone(OSLO).toLocalTime().equals(LocalTime.of(8, 0)));
        Plan moves = plan("every minute", to(mondays), Shift.FOLLOWING);
        assertThat(Cautions.of(moves, NOW, Optional.empty()))
                .anyMatch(caution -> caution.startsWith("the rule is too dense for its calendar: few starts"));
        assertThat(Cautions.of(plan("every day at 23:59", to(mondays), Shift.NEAREST), NOW, Optional.empty()))
                .containsExactly("it never comes");
        Plan usual = plan("every 5 minutes", to(BANK), Shift.FOLLOWING);
        assertThat(usual.starts(NOW).next(21_000)).last().matches(start -> start.at()
                .isAfter(NOW.plus(Duration.ofDays(120))));
    }
}
