package org.gantrel.icalendar;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.calendar.CalendarDays;
import org.gantrel.core.definition.DefinitionReader;
import org.gantrel.core.problem.InvalidException;
import org.gantrel.core.problem.Problem;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("An iCalendar file")
class IcsTest {

    private static String file(String... events) {
        var text = new StringBuilder("BEGIN:VCALENDAR\r\nPRODID:-//Lowmarsh//EN\r\nVERSION:2.0\r\n");
        for (String event : events) {
            text.append("BEGIN:VEVENT\r\nUID:").append(event.hashCode()).append("\r\nDTSTAMP:20260101T000000Z\r\n");
            text.append(event.replace("\n", "\r\n")).append("\r\nEND:VEVENT\r\n");
        }
        return text.append("END:VCALENDAR\r\n").toString();
    }

    @Test
    @DisplayName("gives whole days, several days, days of times, and days that come again")
    void givesDays() {
        List<DayEvent> events = IcsReader.read(
                        file(
                                "DTSTART;VALUE=DATE:20261224\nSUMMARY:Christmas Eve",
                                "DTSTART;VALUE=DATE:20270201\nDTEND;VALUE=DATE:20270215\nSUMMARY:Dry dock\\, MV Sound",
                                "DTSTART;TZID=Europe/Oslo:20270301T220000\nDTEND;TZID=Europe/Oslo:20270302T040000\nSUMMARY:Night work",
                                "DTSTART;VALUE=DATE:20270517\nRRULE:FREQ=YEARLY\nEXDATE;VALUE=DATE:20280517\nSUMMARY:Constitution Day"))
                .events();
        assertThat(events)
                .extracting(event -> event.first() + " " + event.last() + " " + event.label())
                .containsExactly(
                        "2026-12-24 2026-12-24 Christmas Eve",
                        "2027-02-01 2027-02-14 Dry dock, MV Sound",
                        "2027-03-01 2027-03-02 Night work",
                        "2027-05-17 2027-05-17 Constitution Day");
        CalendarDays days = IcsCalendar.of("holidays", events);
        assertThat(days.holds(LocalDate.of(2027, 2, 14))).isTrue();
        assertThat(days.holds(LocalDate.of(2027, 2, 15))).isFalse();
        assertThat(days.holds(LocalDate.of(2028, 5, 17))).isFalse();
        assertThat(days.holds(LocalDate.of(2029, 5, 17))).isTrue();
        assertThat(days.label(LocalDate.of(2029, 5, 17))).contains("Constitution Day");
    }

    @Test
    @DisplayName(
            "is read as RFC 5545 says: durations, further dates, exceptions, replaced and cancelled ones, folded lines")
    void isReadAsTheStandardSays() {
        IcsFile file = IcsReader.read(file(
                        "DTSTART;VALUE=DATE:20270301\nDURATION:P3D\nSUMMARY:Dry do\n ck",
                        "DTSTART;TZID=\"Europe/Oslo\":20270310T220000\nDURATION:PT4H\nSUMMARY:Night",
                        "DTSTART;TZID=Europe/Oslo:20270315T003000\nRRULE:FREQ=DAILY;UNTIL=20270318T120000Z"
                                + "\nEXDATE:20270315T233000Z\nRDATE;TZID=Europe/Oslo:20270325T003000\nSUMMARY:Drill",
                        "DTSTART;VALUE=DATE:20270401\nRDATE;VALUE=DATE:20270403,20270405\nEXDATE;VALUE=DATE:20270403",
                        "DTSTART;VALUE=DATE:20270410\nSTATUS:CANCELLED\nSUMMARY:Fair",
                        "DTSTART;TZID=Europe/Oslo:20270419T090000\nRDATE;TZID=Europe/Oslo;VALUE=PERIOD:"
                                + "20270421T090000/PT30H\nSUMMARY:Periods")
                .replace(
                        "END:VCALENDAR",
                        "BEGIN:VTODO\r\nUID:t\r\nDTSTAMP:20260101T000000Z\r\nEND:VTODO\r\nEND:VCALENDAR"));
        CalendarDays days = IcsCalendar.of("c", file.events());
        assertThat(LocalDate.of(2027, 3, 1).datesUntil(LocalDate.of(2027, 5, 1)).filter(days::holds))
                .extracting(day -> day.getMonthValue() + "-" + day.getDayOfMonth())
                .containsExactly(
                        "3-1", "3-2", "3-3", "3-10", "3-11", "3-15", "3-17", "3-18", "3-25", "4-1", "4-5", "4-19",
                        "4-21", "4-22");
        assertThat(days.label(LocalDate.of(2027, 3, 2))).contains("Dry dock");
        assertThat(file.remarks()).containsExactly("event 5 (Fair) is cancelled", "1 VTODO without days of a calendar");
        assertThat(IcsCalendar.definition("c", "fleet", file))
                .startsWith("# not taken over: event 5 (Fair) is cancelled\n");
    }

    @Test
    @DisplayName(
            "lets an event of its own stand for one date of a rule, or cancel it; says what it does not understand")
    void replacesDates() {
        String weekly = "UID:w\nDTSTART;TZID=Europe/Oslo:20270301T090000\nRRULE:FREQ=WEEKLY;COUNT=4\nSUMMARY:Round";
        String moved =
                "UID:w\nRECURRENCE-ID;TZID=Europe/Oslo:20270308T090000\nDTSTART;TZID=Europe/Oslo:20270310T090000";
        String off = "UID:w\nRECURRENCE-ID:20270315T080000Z\nDTSTART:20270315T080000Z\nSTATUS:CANCELLED";
        CalendarDays days =
                IcsCalendar.of("c", IcsReader.read(bare(weekly, moved, off)).events());
        assertThat(LocalDate.of(2027, 3, 1).datesUntil(LocalDate.of(2027, 5, 1)).filter(days::holds))
                .extracting(LocalDate::getDayOfMonth)
                .containsExactly(1, 10, 22);
        assertThatThrownBy(() -> IcsReader.read(bare(
                        weekly + "\nEXRULE:FREQ=MONTHLY",
                        weekly + "\nRRULE:FREQ=DAILY",
                        "UID:w\nRECURRENCE-ID;RANGE=THISANDFUTURE:20270315T080000Z\nDTSTART:20270315T080000Z",
                        "UID:e\nDTSTART:20270315T080000Z\nDTEND:20270314T080000Z")))
                .isInstanceOfSatisfying(InvalidException.class, wrong -> assertThat(wrong.problems())
                        .extracting(Problem::message)
                        .containsExactly(
                                "EXRULE is not understood; RFC 5545 has EXDATE for it",
                                "it has more than one RRULE; one event each would be understood",
                                "RECURRENCE-ID with RANGE is not understood; an event with a rule of its own would be",
                                "it ends before it begins"));
    }

    private static String bare(String... events) {
        return file(events).replaceAll("BEGIN:VEVENT\r\nUID:[-0-9]+\r\n", "BEGIN:VEVENT\r\n");
    }

    @Test
    @DisplayName("becomes a definition that has the same days")
    void becomesADefinition() {
        IcsFile file = IcsReader.read(file(
                "DTSTART;VALUE=DATE:20261224\nSUMMARY:Say \"no sailings\"",
                "DTSTART;VALUE=DATE:20270201\nDTEND;VALUE=DATE:20270204",
                "DTSTART;VALUE=DATE:20270105\nRRULE:FREQ=MONTHLY;BYDAY=1TU;COUNT=3\nSUMMARY:Drill"));
        CalendarDays direct = IcsCalendar.of("c", file.events());
        var read = new CalendarDays(
                DefinitionReader.readCalendar(IcsCalendar.definition("c", "fleet", file))
                        .calendar(),
                name -> null);
        for (LocalDate day = LocalDate.of(2026, 12, 1); day.getYear() < 2028; day = day.plusDays(1)) {
            assertThat(read.holds(day)).as("%s", day).isEqualTo(direct.holds(day));
            assertThat(read.label(day)).isEqualTo(direct.label(day));
        }
        assertThat(read.label(LocalDate.of(2026, 12, 24))).contains("Say \"no sailings\"");
    }

    @Test
    @DisplayName("that is written reads the same again")
    void readsWhatItWrites() {
        List<DayEvent> events = List.of(
                new DayEvent(LocalDate.of(2026, 12, 24), LocalDate.of(2026, 12, 26), "Christmas", Optional.empty()),
                new DayEvent(LocalDate.of(2027, 5, 17), LocalDate.of(2027, 5, 17), "17; mai, ja", Optional.empty()));
        assertThat(IcsReader.read(IcsWriter.days("holidays", events)).events()).isEqualTo(events);
        String runs = IcsWriter.runs(
                "coming",
                List.of(new IcsWriter.ComingRun(
                        "a-1", Instant.parse("2026-12-24T01:30:00Z"), Duration.ofMinutes(9), "settle", "schedule a")));
        assertThat(runs)
                .contains("DTSTART:20261224T013000Z", "DTEND:20261224T013900Z", "SUMMARY:settle", "UID:a-1@gantrel");
    }

    @Test
    @DisplayName("that is broken names each event that is, with its line, and gives nothing")
    void thatIsBroken() {
        assertThatThrownBy(() -> IcsReader.read(file(
                        "DTSTART;VALUE=DATE:20261224",
                        "SUMMARY:Without a day",
                        "DTSTART;VALUE=DATE:20261226\nRRULE:FREQ=SECONDLY\nSUMMARY:Too often")))
                .isInstanceOfSatisfying(
                        InvalidException.class,
                        wrong -> assertThat(wrong.problems())
                                .extracting(
                                        problem -> problem.line() + " " + problem.field() + ": " + problem.message())
                                .containsExactly(
                                        "9 event 2 (Without a day): it has no DTSTART",
                                        "14 event 3 (Too often): SECONDLY is finer than a schedule goes; MINUTELY is the finest"));
        assertThatThrownBy(() -> IcsReader.read(file("DTSTART;VALUE=DATE:20261354")))
                .isInstanceOfSatisfying(InvalidException.class, wrong -> assertThat(wrong.problems())
                        .singleElement()
                        .satisfies(problem -> assertThat(problem.sentence()).contains("event 1", "20261354")));
        assertThatThrownBy(() -> IcsReader.read("no calendar at all")).isInstanceOf(InvalidException.class);
        assertThatThrownBy(() -> IcsReader.read(file())).hasMessageContaining("1 to 2000 events");
        assertThatThrownBy(() -> IcsReader.read("x".repeat(IcsReader.LONGEST + 1)))
                .hasMessageContaining("too long");
    }
}
