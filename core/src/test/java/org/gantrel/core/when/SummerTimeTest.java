package org.gantrel.core.when;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("When clocks change")
class SummerTimeTest {

    @ParameterizedTest(name = "{1} in {0} after {2}")
    @CsvSource(
            delimiter = '|',
            value = {
                // Oslo, spring: 02:00 to 03:00 does not exist
                "Europe/Oslo | every day at 02:30            | 2027-03-27T12:00:00Z | 2027-03-28T01:30:00Z 2027-03-29T00:30:00Z",
                "Europe/Oslo | every day at 02:30 and 03:30  | 2027-03-27T12:00:00Z | 2027-03-28T01:30:00Z 2027-03-29T00:30:00Z",
                "Europe/Oslo | every 30 minutes              | 2027-03-28T00:15:00Z | 2027-03-28T00:30:00Z 2027-03-28T01:00:00Z 2027-03-28T01:30:00Z",
                "Europe/Oslo | every 2 hours                 | 2027-03-27T23:30:00Z | 2027-03-28T01:00:00Z 2027-03-28T02:00:00Z 2027-03-28T04:00:00Z",
                // Oslo, autumn: 02:00 to 03:00 exists twice
                "Europe/Oslo | every day at 02:30            | 2027-10-30T12:00:00Z | 2027-10-31T00:30:00Z 2027-11-01T01:30:00Z",
                "Europe/Oslo | every hour at :30             | 2027-10-31T00:00:00Z | 2027-10-31T00:30:00Z 2027-10-31T01:30:00Z 2027-10-31T02:30:00Z",
                "Europe/Oslo | every 2 hours                 | 2027-10-30T23:30:00Z | 2027-10-31T00:00:00Z 2027-10-31T03:00:00Z",
                "Europe/Oslo | every 20 minutes between 02:00 and 02:40 | 2027-10-30T12:00:00Z | 2027-10-31T00:00:00Z 2027-10-31T00:20:00Z 2027-10-31T00:40:00Z 2027-11-01T01:00:00Z",
                // Lord Howe moves by half an hour
                "Australia/Lord_Howe | every day at 02:15    | 2026-10-03T00:00:00Z | 2026-10-03T15:45:00Z 2026-10-04T15:15:00Z",
                "Australia/Lord_Howe | every day at 01:45    | 2027-04-03T00:00:00Z | 2027-04-03T14:45:00Z 2027-04-04T15:15:00Z",
                "Australia/Lord_Howe | */30 * * * *          | 2027-04-03T14:20:00Z | 2027-04-03T14:30:00Z 2027-04-03T15:00:00Z 2027-04-03T15:30:00Z",
                // Apia had no 30 December 2011
                "Pacific/Apia | every day at 10:00           | 2011-12-28T00:00:00Z | 2011-12-28T20:00:00Z 2011-12-29T20:00:00Z 2011-12-30T20:00:00Z",
                "Pacific/Apia | day 30 of every month at 10:00 | 2011-12-01T00:00:00Z | 2011-12-30T20:00:00Z 2012-01-29T20:00:00Z",
                // Sao Paulo, 2018: midnight itself did not exist
                "America/Sao_Paulo | every day at 00:00      | 2018-11-03T12:00:00Z | 2018-11-04T03:00:00Z 2018-11-05T02:00:00Z",
                // Casablanca, 1985: a clock went back over midnight
                "Africa/Casablanca | every hour at :52       | 1985-12-31T21:00:00Z | 1985-12-31T21:52:00Z 1985-12-31T22:52:00Z 1985-12-31T23:52:00Z",
                "Asia/Kathmandu | every day at 00:10         | 2026-11-23T00:00:00Z | 2026-11-23T18:25:00Z 2026-11-24T18:25:00Z"
            })
    void aTimeIsFound(String zone, String when, Instant after, String expected) {
        List<Instant> instants =
                Stream.of(expected.split(" ")).map(Instant::parse).toList();
        assertThat(When.parse(when.strip()).next(after, ZoneId.of(zone.strip()), instants.size()))
                .isEqualTo(instants);
    }

    @Test
    @DisplayName("a rule of iCalendar does as a phrase does")
    void rulesDoTheSame() {
        for (String zone : List.of("Europe/Oslo", "Australia/Lord_Howe", "America/New_York", "Pacific/Apia")) {
            ZoneId in = ZoneId.of(zone);
            for (String time : List.of("0130", "0200", "0230", "2330", "0000")) {
                Timetable rule = When.parse("DTSTART;TZID=" + zone + ":20110101T" + time + "00 RRULE:FREQ=DAILY");
                Timetable phrase = When.parse(
                        "every day at " + time.substring(0, 2) + ":" + time.substring(2) + " from 2011-01-01");
                Instant from =
                        LocalDate.of(2011, 1, 1).atStartOfDay(in).toInstant().minusSeconds(1);
                assertThat(rule.next(from, in, 800)).as("%s %s", zone, time).isEqualTo(phrase.next(from, in, 800));
            }
        }
    }

    @Test
    @DisplayName("times that lie far ahead are found as fast as near ones, and stay in order")
    void farDates() {
        ZoneId oslo = ZoneId.of("Europe/Oslo");
        for (String when : List.of("every day at 02:30", "0 6 29 2 *", "last Friday of every month at 17:00")) {
            Instant far = Instant.parse("2190-01-01T00:00:00Z");
            List<Instant> next = When.parse(when).next(far, oslo, 5);
            assertThat(next).as(when).hasSize(5).isSorted().doesNotHaveDuplicates();
            assertThat(next.get(0)).isAfter(far);
        }
    }
}
