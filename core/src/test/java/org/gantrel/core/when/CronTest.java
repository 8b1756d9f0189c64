package org.gantrel.core.when;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A cron expression")
class CronTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");

    @Test
    @DisplayName("stays at its local time when summer time begins")
    void staysAtItsLocalTime() {
        List<Instant> times = When.parse("45 6 * * 1-5").next(Instant.parse("2026-03-26T12:00:00Z"), OSLO, 3);
        assertThat(times)
                .containsExactly(
                        Instant.parse("2026-03-27T05:45:00Z"),
                        Instant.parse("2026-03-30T04:45:00Z"),
                        Instant.parse("2026-03-31T04:45:00Z"));
    }

    @Test
    @DisplayName("moves a time that does not exist forward by the gap, and merges it with one that is there")
    void movesForwardThroughAGap() {
        List<Instant> times = When.parse("30 2,3 * * *").next(Instant.parse("2026-03-28T12:00:00Z"), OSLO, 2);
        assertThat(times).containsExactly(Instant.parse("2026-03-29T01:30:00Z"), Instant.parse("2026-03-30T00:30:00Z"));
    }

    @Test
    @DisplayName("counts a time that exists twice once, the first")
    void countsOnceInAnOverlap() {
        List<Instant> times = When.parse("30 2 * * *").next(Instant.parse("2026-10-24T12:00:00Z"), OSLO, 2);
        assertThat(times).containsExactly(Instant.parse("2026-10-25T00:30:00Z"), Instant.parse("2026-10-26T01:30:00Z"));
    }

    @ParameterizedTest(name = "{0} is {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "0 5 * * 0-0        | every Sunday at 05:00",
                "0 5 * * SUN-SUN    | every Sunday at 05:00",
                "0 5 * * sun-0/2    | every Sunday at 05:00",
                "0 5 * * mon-sunday | every day at 05:00",
                "0 5 * january *    | every day at 05:00 in January",
                "@hourly            | every hour",
                "@Daily             | every day at 00:00",
                "@weekly            | every Sunday at 00:00",
                "@monthly           | day 1 of every month at 00:00",
                "@yearly            | day 1 of January at 00:00"
            })
    @DisplayName("is read as crontab writes it")
    void isReadAsCrontabWritesIt(String expression, String phrase) {
        assertThat(When.parse(expression.strip()).phrase()).isEqualTo(phrase);
    }

    @Test
    @DisplayName("of six fields that look like seconds first says how it was read")
    void warnsOfSeconds() {
        assertThat(When.parse("0 0 12 * * ?").cautions())
                .containsExactly(
                        "six fields are read as minute 0, hour 0, day 12, month *, weekday *, year ?; if the first"
                                + " was meant for seconds, '0 12 * * ?' (every day at 12:00) would be right");
        assertThat(When.parse("0 0 12 * * 2027").cautions()).isEmpty();
        assertThatThrownBy(() -> When.parse("0 30 9 ? * MON-FRI"))
                .hasMessageContaining("'30 9 ? * MON-FRI' would be right");
    }

    @Test
    @DisplayName("with the hour open goes on through both hours of an overlap")
    void goesOnThroughAnOverlap() {
        List<Instant> times = When.parse("*/30 * * * *").next(Instant.parse("2026-10-24T23:45:00Z"), OSLO, 6);
        assertThat(times)
                .containsExactly(
                        Instant.parse("2026-10-25T00:00:00Z"),
                        Instant.parse("2026-10-25T00:30:00Z"),
                        Instant.parse("2026-10-25T01:00:00Z"),
                        Instant.parse("2026-10-25T01:30:00Z"),
                        Instant.parse("2026-10-25T02:00:00Z"),
                        Instant.parse("2026-10-25T02:30:00Z"));
    }

    @ParameterizedTest(name = "{0} from {1} is {2}")
    @CsvSource({
        "0 0 13 * 5,         2026-02-28T00:00:00Z, 2026-03-06T00:00:00Z",
        "0 0 13 * 5,         2026-04-12T00:00:00Z, 2026-04-13T00:00:00Z",
        "0 12 L * *,         2026-02-01T00:00:00Z, 2026-02-28T12:00:00Z",
        "0 12 L-2 * *,       2026-02-01T00:00:00Z, 2026-02-26T12:00:00Z",
        "0 12 LW * *,        2026-05-01T00:00:00Z, 2026-05-29T12:00:00Z",
        "0 12 15W * *,       2026-08-01T00:00:00Z, 2026-08-14T12:00:00Z",
        "0 12 1W * *,        2026-08-01T00:00:00Z, 2026-08-03T12:00:00Z",
        "0 12 ? * 5L,        2026-02-01T00:00:00Z, 2026-02-27T12:00:00Z",
        "0 12 ? * MON#2,     2026-02-01T00:00:00Z, 2026-02-09T12:00:00Z",
        "0 0 29 2 *,         2026-02-01T00:00:00Z, 2028-02-29T00:00:00Z",
        "0 0 1 1 * 2030,     2026-02-01T00:00:00Z, 2030-01-01T00:00:00Z",
        "0 9 * JAN-MAR SUN,  2026-04-01T00:00:00Z, 2027-01-03T09:00:00Z",
        "0 9 * * 7,          2026-11-23T00:00:00Z, 2026-11-29T09:00:00Z",
        "10/20 9 * * *,      2026-11-23T09:10:00Z, 2026-11-23T09:30:00Z"
    })
    void comesRound(String expression, Instant from, Instant expected) {
        assertThat(When.parse(expression).next(from, ZoneOffset.UTC)).contains(expected);
    }

    @ParameterizedTest
    @ValueSource(strings = {"0 0 30 2 *", "0 0 31 4,6 *", "0 0 1 1 * 2001"})
    @DisplayName("that names no day that exists never comes round, and says so at once")
    void neverComesRound(String expression) {
        assertThat(When.parse(expression).next(Instant.parse("2026-01-01T00:00:00Z"), OSLO))
                .isEmpty();
    }

    @ParameterizedTest(name = "{0} is {1}")
    @CsvSource(
            delimiter = '|',
            value = {
                "45 6 * * 1-5          | every weekday at 06:45",
                "0 2,14 * * *          | every day at 02:00 and 14:00",
                "*/15 * * * *          | every 15 minutes",
                "* * * * *             | every minute",
                "5 * * * *             | every hour at :05",
                "*/10 8-17 * * 1-5     | every 10 minutes between 08:00 and 17:50 on weekdays",
                "30 19 * * 2#2         | second Tuesday of every month at 19:30",
                "0 12 L * *            | last day of every month at 12:00",
                "0 12 L-3 * *          | 3 days before the last day of every month at 12:00",
                "0 12 LW * *           | last weekday of every month at 12:00",
                "0 12 15W * *          | weekday nearest to day 15 of every month at 12:00",
                "0 12 * * 5L           | last Friday of every month at 12:00",
                "0 9 * * 6,0           | every weekend day at 09:00",
                "0 9 * * 1,3           | every Monday and Wednesday at 09:00",
                "0 9 * 6-8 *           | every day at 09:00 in June, July and August",
                "0 9 1 1 * 2027        | day 1 of January at 09:00 from 2027-01-01 until 2027-12-31",
                "0-4 * * * *           | every hour at :00, :01, :02, :03 and :04",
                "0 */6 * * *           | every 6 hours",
                "0 0 1,15 1 *          | day 1 and 15 of January at 00:00",
                "0 0 13 * 5            | day 13 of every month, or every Friday at 00:00"
            })
    void explainsItself(String expression, String phrase) {
        assertThat(When.parse(expression.strip()).phrase()).isEqualTo(phrase);
    }

    @ParameterizedTest(name = "{0}: column {1}, {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "0 25 * * *       | 3  | hour 25: 0 to 23",
                "0 0 * * 8        | 9  | weekday 8: 0 to 7, where 0 and 7 are Sunday",
                "61 0 * * *       | 1  | minute 61: 0 to 59",
                "0 0 * FEBR *     | 7  | month 'FEBR': 1 to 12, or a name such as JAN; did you mean 'feb'?",
                "0 0 5-1 * *      | 5  | the day of the month range 5-1 runs backwards; write it as two ranges",
                "*/0 0 * * *      | 3  | minute step '0': a number from 1 on",
                "0 0 * *          | 8  | a cron expression has five fields",
                "0 0 * * MON#6    | 13 | '#6': #1 to #5, the first to the fifth",
                "0 0 * * L        | 9  | L needs its weekday here, such as 5L for the last Friday"
            })
    void saysWhatIsWrongAndWhere(String expression, int column, String message) {
        assertThatThrownBy(() -> When.parse(expression.strip())).isInstanceOfSatisfying(WhenException.class, wrong -> {
            assertThat(wrong.getMessage()).startsWith(message);
            assertThat(wrong.column()).isEqualTo(column);
        });
    }

    @Test
    @DisplayName("gives what a minute-by-minute reading of its fields gives, in zones with odd rules")
    void agreesWithANaiveReading() {
        var random = new Random(7);
        List<ZoneId> zones = Stream.of(
                        "Europe/Oslo",
                        "Australia/Lord_Howe",
                        "Pacific/Apia",
                        "Africa/Casablanca",
                        "Atlantic/Azores",
                        "Asia/Kathmandu")
                .map(ZoneId::of)
                .toList();
        List<LocalDate> days = Stream.of(
                        "2026-03-28",
                        "2026-10-24",
                        "2011-12-29",
                        "2026-04-04",
                        "2026-10-03",
                        "2026-02-14",
                        "1985-12-31")
                .map(LocalDate::parse)
                .toList();
        for (int i = 0; i < 2_000; i++) {
            var fields = new NaiveFields(random);
            ZoneId zone = zones.get(i % zones.size());
            LocalDate day = days.get(random.nextInt(days.size()));
            Instant from = day.atStartOfDay(zone).toInstant();
            Instant until = day.plusDays(4).atStartOfDay(zone).toInstant();
            var found = new TreeSet<>(between(When.parse(fields.expression()), from, until, zone));
            var naive = new TreeSet<>(fields.read(from, until, zone));
            assertThat(Stream.of(
                                    found.stream().filter(at -> !naive.contains(at)),
                                    naive.stream().filter(at -> !found.contains(at)))
                            .map(Stream::toList))
                    .as("too much and too little of %s in %s from %s", fields.expression(), zone, day)
                    .containsExactly(List.of(), List.of());
        }
    }

    @Test
    @DisplayName("and the phrase that explains it stand for the same times")
    void meansWhatItsPhraseSays() {
        var random = new Random(11);
        int phrases = 0;
        for (int i = 0; i < 3_000; i++) {
            Timetable cron = When.parse(new NaiveFields(random).expression());
            Timetable phrase;
            try {
                phrase = When.parse(cron.phrase());
            } catch (WhenException e) {
                continue;
            }
            phrases++;
            Instant from = Instant.parse("2026-03-01T00:00:00Z").plusSeconds(random.nextInt(31_000_000));
            assertThat(phrase.next(from, OSLO, 20)).as("%s, %s", cron, phrase).isEqualTo(cron.next(from, OSLO, 20));
        }
        assertThat(phrases).isGreaterThan(1_500);
    }

    private static List<Instant> between(Timetable timetable, Instant from, Instant until, ZoneId zone) {
        var found = new ArrayList<Instant>();
        var next = timetable.next(from, zone);
        while (next.isPresent() && next.get().isBefore(until)) {
            found.add(next.get());
            next = timetable.next(next.get(), zone);
        }
        assertThat(found).isSorted().doesNotHaveDuplicates();
        return found;
    }

    /** Fields of an expression, each a plain list of numbers or open; read minute by minute, without any cleverness. */
    private record NaiveFields(
            Set<Integer> minutes, Set<Integer> hours, Set<Integer> dates, Set<Integer> months, Set<Integer> weekdays) {

        NaiveFields(Random random) {
            this(
                    pick(random, 0, 59, 2),
                    pick(random, 0, 23, 2),
                    pick(random, 1, 31, 3),
                    pick(random, 1, 12, 4),
                    pick(random, 0, 6, 3));
        }

        /** Open one time in {@code openOne} or more; otherwise a list, a range or a step. */
        private static Set<Integer> pick(Random random, int least, int most, int openOne) {
            if (random.nextInt(openOne) > 0 && openOne > 2 || random.nextInt(4) == 0) {
                return Set.of();
            }
            int step = 1 + random.nextInt(random.nextBoolean() ? 1 : 12);
            int from = least + random.nextInt(most - least + 1);
            int to = Math.min(most, from + random.nextInt(most - least + 1));
            return IntStream.rangeClosed(from, to)
                    .filter(number -> (number - from) % step == 0)
                    .limit(step > 1 ? 60 : 1 + random.nextInt(8))
                    .boxed()
                    .collect(Collectors.toCollection(TreeSet::new));
        }

        String expression() {
            return Stream.of(minutes, hours, dates, months, weekdays)
                    .map(field -> field.isEmpty()
                            ? "*"
                            : field.stream().map(String::valueOf).collect(Collectors.joining(",")))
                    .collect(Collectors.joining(" "));
        }

        List<Instant> read(Instant from, Instant until, ZoneId zone) {
            var found = new TreeSet<Instant>();
            LocalDate end = LocalDateTime.ofInstant(until, zone).toLocalDate().plusDays(1);
            boolean hourOpen = hours.isEmpty() || hours.size() == 24;
            LocalDate day = LocalDateTime.ofInstant(from, zone).toLocalDate().minusDays(2);
            for (; day.isBefore(end); day = day.plusDays(1)) {
                for (int minute = 0; minute < 24 * 60 && matches(day); minute++) {
                    if (!open(hours, minute / 60) || !open(minutes, minute % 60)) {
                        continue;
                    }
                    LocalDateTime local = day.atTime(minute / 60, minute % 60);
                    found.add(local.atZone(zone).toInstant());
                    List<ZoneOffset> offsets = zone.getRules().getValidOffsets(local);
                    if (hourOpen && offsets.size() > 1) {
                        found.add(local.toInstant(offsets.get(1)));
                    }
                }
            }
            return found.stream()
                    .filter(at -> at.isAfter(from) && at.isBefore(until))
                    .toList();
        }

        private boolean matches(LocalDate day) {
            boolean date = open(dates, day.getDayOfMonth());
            boolean weekday = open(weekdays, day.getDayOfWeek().getValue() % 7);
            boolean either = !dates.isEmpty() && !weekdays.isEmpty();
            return open(months, day.getMonthValue()) && (either ? date || weekday : date && weekday);
        }

        private static boolean open(Set<Integer> field, int number) {
            return field.isEmpty() || field.contains(number);
        }
    }
}
