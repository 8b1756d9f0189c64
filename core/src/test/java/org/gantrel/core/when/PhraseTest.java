package org.gantrel.core.when;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Locale;
import java.util.Random;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

@DisplayName("A phrase")
class PhraseTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");

    @ParameterizedTest(name = "{0}: {1}, first at {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                "every day at 02:30                | every day at 02:30                  | 2026-11-24T01:30:00Z",
                "EVERY Day at 2:30                 | every day at 02:30                  | 2026-11-24T01:30:00Z",
                "every day at 18:00 and 06:00      | every day at 06:00 and 18:00        | 2026-11-23T17:00:00Z",
                "every weekday at 06:45            | every weekday at 06:45              | 2026-11-24T05:45:00Z",
                "every weekend at 9:00             | every weekend day at 09:00          | 2026-11-28T08:00:00Z",
                "every mon, wed and friday at 07:00| every Monday, Wednesday and Friday at 07:00 | 2026-11-25T06:00:00Z",
                "every 15 minutes                  | every 15 minutes                    | 2026-11-23T12:00:00Z",
                "every minute                      | every minute                        | 2026-11-23T12:00:00Z",
                "every 2 hours                     | every 2 hours                       | 2026-11-23T13:00:00Z",
                "daily at 5pm                      | every day at 17:00                  | 2026-11-23T16:00:00Z",
                "Mon-Fri at 9 am, noon             | every weekday at 09:00 and 12:00    | 2026-11-24T08:00:00Z",
                "at 06:45 on weekdays              | every weekday at 06:45              | 2026-11-24T05:45:00Z",
                "every hour at :20 and :50         | every hour at :20 and :50           | 2026-11-23T12:20:00Z",
                "every 3 hours at :10              | every 3 hours at :10                | 2026-11-23T14:10:00Z",
                "every 15 min from 06:00 to 22:00 on Saturdays | every 15 minutes between 06:00 and 22:00 on Saturday | 2026-11-28T05:00:00Z",
                "every 30 minutes between 22:30 and 02:00 | every 30 minutes between 22:30 and 02:00 | 2026-11-23T21:30:00Z",
                "second Tuesday of every month at 19:30 | second Tuesday of every month at 19:30 | 2026-12-08T18:30:00Z",
                "the 1st and 3rd Friday at 8:00    | first Friday and third Friday of every month at 08:00 | 2026-12-04T07:00:00Z",
                "last Friday of each month at 17:00| last Friday of every month at 17:00 | 2026-11-27T16:00:00Z",
                "fifth Monday at 10:00             | fifth Monday of every month at 10:00| 2026-11-30T09:00:00Z",
                "monthly on the last day at 23:00  | last day of every month at 23:00    | 2026-11-30T22:00:00Z",
                "3 days before the end of the month at 09:00 | 3 days before the last day of every month at 09:00 | 2026-11-27T08:00:00Z",
                "day 15 and 1 of every month at 06:00 | day 1 and 15 of every month at 06:00 | 2026-12-01T05:00:00Z",
                "on the 15th at 06:00 in June and January | day 15 of January and June at 06:00 | 2027-01-15T05:00:00Z",
                "every working day at 07:00        | every working day at 07:00          | 2026-11-24T06:00:00Z",
                "third working day of the month at 22:00 | third working day of every month at 22:00 | 2026-12-03T21:00:00Z",
                "last working day of every quarter at 18:00 | last working day of every quarter at 18:00 | 2026-12-31T17:00:00Z",
                "second last working day of every month at 18:00 | second last working day of every month at 18:00 | 2026-11-27T17:00:00Z",
                "first working day of every week at 07:00 | first working day of every week at 07:00 | 2026-11-30T06:00:00Z",
                "2 working days before day 1 of every month at 12:00 | 2 working days before day 1 of every month at 12:00 | 2026-11-27T11:00:00Z",
                "1 working day after the last Friday of every month at 12:00 | 1 working day after last Friday of every month at 12:00 | 2026-11-30T11:00:00Z",
                "every 2 weeks on Mon and Thu at 06:00 from 2026-11-23 | every 2 weeks on Monday and Thursday at 06:00 from 2026-11-23 | 2026-11-26T05:00:00Z",
                "every 3 months on day 5 at 10:00 from 2026-11-01 | every 3 months on day 5 at 10:00 from 2026-11-01 | 2027-02-05T09:00:00Z",
                "every other day at 04:00 from 2026-11-22 | every 2 days at 04:00 from 2026-11-22 | 2026-11-24T03:00:00Z",
                "quarterly on day 1 at 05:00       | day 1 of every quarter at 05:00     | 2027-01-01T04:00:00Z",
                "every year on 24 December at 12:00| day 24 of December at 12:00         | 2026-12-24T11:00:00Z",
                "2 days before Easter at 10:00     | 2 days before Easter of every year at 10:00 | 2027-03-26T09:00:00Z",
                "every Monday in July at 08:00     | every Monday at 08:00 in July       | 2027-07-05T06:00:00Z",
                "once on 2026-12-24 at 12:00       | once on 2026-12-24 at 12:00         | 2026-12-24T11:00:00Z",
                "every day at 02:30 until 2026-12-31 | every day at 02:30 until 2026-12-31 | 2026-11-24T01:30:00Z",
                "weekdays 7:30                     | every weekday at 07:30              | 2026-11-24T06:30:00Z",
                "first monday of the month 9am     | first Monday of every month at 09:00| 2026-12-07T08:00:00Z",
                "every other tuesday at 9 from 2026-11-24 | every 2 weeks on Tuesday at 09:00 from 2026-11-24 | 2026-11-24T08:00:00Z",
                "every second Monday at 9 from 2026-11-23 | every 2 weeks on Monday at 09:00 from 2026-11-23 | 2026-12-07T08:00:00Z",
                "every second Monday of the month at 9 | second Monday of every month at 09:00 | 2026-12-14T08:00:00Z",
                "every 3rd day at 05:00 from 2026-11-22 | every 3 days at 05:00 from 2026-11-22 | 2026-11-25T04:00:00Z",
                "every hour at :20 between 06:00 and 08:00 | every hour at :20 between 06:00 and 08:00 | 2026-11-24T05:20:00Z",
                "every working day and Saturday at 05:00 | every working day and Saturday at 05:00 | 2026-11-24T04:00:00Z",
                "2 days before Easter and last day of every year at 05:00 | 2 days before the last day and 2 days before Easter of every year at 05:00 | 2026-12-29T04:00:00Z",
                "2 working days before day 1 and 15 of every month at 12:00 | 2 working days before day 1 and 2 working days before day 15 of every month at 12:00 | 2026-11-27T11:00:00Z",
                "every day at 13:00 from 2026-11-20, 4 times | every day at 13:00 from 2026-11-20, 4 times | 2026-11-23T12:00:00Z"
            })
    void isUnderstood(String written, String phrase, Instant first) {
        Timetable timetable = When.parse(written.strip());
        assertThat(timetable.phrase()).isEqualTo(phrase);
        assertThat(timetable.kind()).isEqualTo(Timetable.Kind.PHRASE);
        assertThat(timetable.next(Instant.parse("2026-11-23T11:59:59Z"), OSLO)).contains(first);
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "every day at 06:00 and 18:00", "every weekday at 06:45", "every weekend day at 09:00",
                "every Monday, Wednesday and Friday at 07:00", "every 15 minutes", "every hour"
            })
    @DisplayName("that was printed reads as the same phrase")
    void printsWhatItReads(String phrase) {
        assertThat(When.parse(phrase).phrase()).isEqualTo(phrase);
    }

    @Test
    @DisplayName("of minutes goes on through the hour that autumn repeats, by the local clock")
    void goesOnThroughAutumn() {
        Timetable timetable = When.parse("every 20 minutes");
        assertThat(timetable.next(Instant.parse("2026-10-25T00:00:00Z"), OSLO, 6))
                .containsExactly(
                        Instant.parse("2026-10-25T00:20:00Z"),
                        Instant.parse("2026-10-25T00:40:00Z"),
                        Instant.parse("2026-10-25T01:00:00Z"),
                        Instant.parse("2026-10-25T01:20:00Z"),
                        Instant.parse("2026-10-25T01:40:00Z"),
                        Instant.parse("2026-10-25T02:00:00Z"));
    }

    @Test
    @DisplayName("that was printed reads as the same phrase, whatever it says")
    void readsWhatItPrints() {
        var random = new Random(23);
        for (int i = 0; i < 20_000; i++) {
            Phrase phrase = PhraseMaker.any(random);
            assertThat(When.parse(phrase.phrase())).as(phrase.phrase()).isEqualTo(phrase);
        }
    }

    /** Words that may be left out, as docs/phrases.md lists them; one that a list repeats may be said once. */
    private static final Set<String> FILLERS = Set.of(
            "at", "once", "on", "of", "the", "every", "each", "day", "days", "to", "daily", "weekly", "monthly",
            "yearly");

    @Test
    @DisplayName("means every word of it: without one it says something else, or nothing, unless the word is a filler")
    void meansEveryWord() {
        var random = new Random(59);
        var texts = new ArrayList<>(List.of(
                "monthly on the last day at 23:00",
                "every week on Monday at 07:00 and at 8:00",
                "the 1st and 3rd Friday at 8:00",
                "daily at 5pm",
                "2 working days before the last Friday and day 3 at noon in May"));
        for (int i = 0; i < 4_000; i++) {
            texts.add(PhraseMaker.any(random).phrase());
        }
        for (String text : texts) {
            Timetable whole = When.parse(text);
            String[] words = text.split(" ");
            for (int left = 0; left < words.length; left++) {
                String word = words[left].replace(",", "").toLowerCase(Locale.ROOT);
                String less = Stream.concat(Arrays.stream(words, 0, left), Arrays.stream(words, left + 1, words.length))
                        .collect(Collectors.joining(" "));
                try {
                    assertThat(When.parse(less).equals(whole)
                                    && !FILLERS.contains(word)
                                    && !less.toLowerCase(Locale.ROOT).contains(word))
                            .as("'%s' without '%s'", text, words[left])
                            .isFalse();
                } catch (WhenException e) {
                    assertThat(e.getMessage()).isNotBlank();
                }
            }
        }
    }

    @Test
    @DisplayName("whose part of the day goes past midnight keeps to the days on which it begins")
    void goesPastMidnight() {
        Timetable nights =
                When.parse("every 30 minutes between 23:00 and 01:00 on Friday from 2026-11-20 until 2026-11-28");
        List<Instant> found = nights.next(Instant.parse("2026-11-01T00:00:00Z"), OSLO, 20);
        assertThat(found)
                .extracting(at -> at.atZone(OSLO).toLocalDateTime().toString().substring(8))
                .containsExactly(
                        "20T23:00",
                        "20T23:30",
                        "21T00:00",
                        "21T00:30",
                        "21T01:00",
                        "27T23:00",
                        "27T23:30",
                        "28T00:00",
                        "28T00:30",
                        "28T01:00");
        assertThat(nights.dayOf(found.get(4), OSLO)).isEqualTo("2026-11-20");
        assertThat(When.parse("every hour between 23:00 and 01:00 on 2026-12-31")
                        .next(Instant.EPOCH, OSLO, 9))
                .extracting(at -> at.atZone(OSLO).toLocalDateTime().toString())
                .containsExactly("2026-12-31T23:00", "2027-01-01T00:00", "2027-01-01T01:00");
    }

    @Test
    @DisplayName("of every n-th week or day without a first day begins where it is told to")
    void beginsWhereItIsToldTo() {
        Timetable other = When.parse("every other tuesday at 9");
        assertThat(other.needsStart()).isTrue();
        assertThat(other.startingAt(Instant.parse("2026-11-26T00:00:00Z"), OSLO).phrase())
                .isEqualTo("every 2 weeks on Tuesday at 09:00 from 2026-12-01");
    }

    @Test
    @DisplayName("gives instants in order, none twice, and none before it begins or after it ends")
    void keepsOrder() {
        var random = new Random(29);
        for (int i = 0; i < 3_000; i++) {
            Phrase phrase = PhraseMaker.any(random);
            Instant from = Instant.parse("2026-01-01T00:00:00Z").plusSeconds(random.nextInt(50_000_000));
            List<Instant> next = phrase.next(from, OSLO, 15);
            assertThat(next)
                    .as(phrase.phrase())
                    .isSorted()
                    .doesNotHaveDuplicates()
                    .allMatch(at -> at.isAfter(from));
            for (Instant at : next) {
                LocalDate day = at.atZone(OSLO).toLocalDate();
                phrase.bounds().from().ifPresent(first -> assertThat(day).isAfterOrEqualTo(first));
                phrase.bounds().until().ifPresent(last -> assertThat(day).isBeforeOrEqualTo(last));
            }
            phrase.bounds().count().ifPresent(count -> assertThat(phrase.next(Instant.EPOCH, OSLO, count + 5))
                    .hasSizeLessThanOrEqualTo(count));
        }
    }

    @Test
    @DisplayName("that speaks of working days follows the working days it is given")
    void followsWorkingDays() {
        Timetable phrase = When.parse("last working day of every month at 17:00");
        DaySet shortWeek = Weekdays.of(0b0001111);
        assertThat(phrase.workingOn(shortWeek).next(Instant.parse("2027-04-01T00:00:00Z"), OSLO))
                .contains(Instant.parse("2027-04-29T15:00:00Z"));
    }

    @ParameterizedTest(name = "{0}: column {1}, {2}")
    @CsvSource(
            delimiter = '|',
            quoteCharacter = '~',
            value = {
                "evry day at 02:30      | 1  | 'evry': no part of a phrase begins so; did you mean 'every'?",
                "every daay at 02:30    | 7  | 'daay': a day is expected: 'day', 'weekday', 'weekend' or a name such as 'Monday'; did you mean 'day'?",
                "every day at           | 13 | the phrase ends where a time such as 02:30 is expected",
                "every day at 24:30     | 14 | '24:30': 00:00 to 23:59 would be right",
                "every day at 2.30      | 14 | '2.30': a time such as 02:30 is expected",
                "every 0 minutes        | 7  | 0 minutes: 1 to 1440 would be right",
                "every Monday           | 13 | the phrase ends where 'at' and a time such as 02:30 are expected",
                "at 05:00               | 9  | the phrase does not say on which days: 'every day at 05:00' or 'every Monday at 05:00' would",
                "every month at 05:00   | 21 | the phrase does not say on which day of the month: 'on day 1' or 'on the last Friday' would",
                "06:21, 7:14           | 12 | the phrase does not say on which days: 'every day at 06:21 and 07:14' or 'every Monday at 06:21 and 07:14' would",
                "every day on Monday at 10:00 | 14 | 'monday': the phrase says twice on which days; one of them would do",
                "weekdays and Friday at 10:00 | 14 | 'friday': the phrase says twice on which days; one of them would do",
                "day 1 of January in July at 05:00 | 21 | the phrase names months twice: January, and these",
                "every 5 minutes between 06:00 and 08:00 between 10:00 and 12:00 | 41 | 'between': the part of the day is said twice; two schedules can say both",
                "every day at 06:00 until 2027-01-01 until 2027-02-01 | 37 | 'until': the last day is said twice; two schedules can say both",
                "every day at 06:00 on weekdays at 07:00 | 23 | 'weekdays': the phrase says twice on which days; one of them would do",
                "every working day and day 15 at 05:00 | 38 | the phrase speaks of every working day and of day 15; write two schedules, or a place such as 'first working day'",
                "every second working day at 05:00 | 7 | 'every second working day': of which period? 'second working day of every month' would say it",
                "every hour at :20 between 06:30 and 07:10 | 27 | no time of 'every hour at :20 between 06:30 and 07:10' lies in that part of the day",
                "every 15 minutes at 05:00 | 7 | either steps, 'every 15 minutes', or times, 'at 02:30', but not both",
                "last Fryday of every month at 05:00 | 6 | 'fryday': a name such as 'Friday', 'weekday', 'working day' or 'day' is expected; did you mean 'friday'?",
                "first Monday of Febuary at 05:00 | 17 | 'febuary': 'every month', 'every quarter', 'every year' or the name of a month is expected; did you mean 'february'?",
                "once on 2026-02-30 at 05:00 | 9 | '2026-02-30' is no day of the calendar",
                "day 32 of every month at 05:00 | 31 | 'day 32': a month has at most 31 days",
                "every day at 13pm      | 14 | '13pm': 1am to 12pm would be right",
                "every day at 05:00, 3 times | 21 | so many times can only be counted from a first day, such as 'from 2026-11-23'",
                "every 5 minuts         | 9  | 'minuts': 'minutes', 'hours', 'days', 'weeks', 'months' or 'years' is expected; did you mean 'minutes'?",
                "every day at 02:30 nowish | 20 | 'nowish': no part of a phrase begins so"
            })
    void thatIsWrongSaysWhereAndWhatWouldBeRight(String written, int column, String message) {
        assertThatThrownBy(() -> When.parse(written.strip())).isInstanceOfSatisfying(WhenException.class, wrong -> {
            assertThat(wrong.getMessage()).isEqualTo(message);
            assertThat(wrong.column()).isEqualTo(column);
        });
    }

    @Test
    @DisplayName("of 10,000 characters is refused before it is read")
    void ofGreatLengthIsRefused() {
        assertThatThrownBy(() -> When.parse("every " + "x".repeat(10_000)))
                .hasMessageContaining("too long: at most 400");
        assertThatThrownBy(() -> When.parse("  ")).hasMessageContaining("nothing is written");
    }
}
