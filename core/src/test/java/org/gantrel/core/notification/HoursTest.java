package org.gantrel.core.notification;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.function.Predicate;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;

@DisplayName("The hours of people")
class HoursTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
    private static final Predicate<LocalDate> WEEKDAYS =
            day -> !Set.of(DayOfWeek.SATURDAY, DayOfWeek.SUNDAY).contains(day.getDayOfWeek());

    private static QuietHours night(Urgency wakes) {
        return new QuietHours(OSLO, LocalTime.of(21, 0), LocalTime.of(7, 30), wakes);
    }

    @Test
    @DisplayName("hold back what can wait until they work again, and let through what may wake")
    void holdBack() {
        Instant saturday = Instant.parse("2026-11-28T02:00:00Z");
        Instant monday = Instant.parse("2026-11-30T06:30:00Z");
        assertThat(night(Urgency.URGENT).release(saturday, Urgency.USUAL, WEEKDAYS))
                .isEqualTo(monday);
        assertThat(night(Urgency.URGENT).release(saturday, Urgency.URGENT, WEEKDAYS))
                .isEqualTo(saturday);
        assertThat(QuietHours.NONE.release(saturday, Urgency.CALM, day -> true)).isEqualTo(saturday);
        // a calendar without days of work swallows nothing for ever
        assertThat(night(Urgency.URGENT).release(saturday, Urgency.CALM, day -> false))
                .isBetween(saturday.plus(Duration.ofDays(13)), saturday.plus(Duration.ofDays(16)));
    }

    @Test
    @DisplayName("are the same as minute by minute, over the changes of the clock too")
    void areMinuteByMinute() {
        var random = new Random(15);
        for (int i = 0; i < 300; i++) {
            var quiet = new QuietHours(
                    OSLO,
                    LocalTime.of(random.nextInt(24), random.nextInt(60)),
                    LocalTime.of(random.nextInt(24), random.nextInt(60)),
                    Urgency.URGENT);
            Instant now = Instant.parse("2026-03-27T00:00:00Z")
                    .plus(Duration.ofMinutes(random.nextInt(random.nextBoolean() ? 5_000 : 400_000)));
            Instant naive = now;
            while (quiet.isQuiet(naive, WEEKDAYS)) {
                naive = naive.plus(Duration.ofMinutes(1));
            }
            assertThat(quiet.release(now, Urgency.USUAL, WEEKDAYS)).isEqualTo(naive);
        }
    }

    @Test
    @DisplayName("of duty go round week by week at the hour of handover, and others stand in")
    void goRound() {
        var list = new DutyList(
                "night-desk",
                "revenue",
                "",
                OSLO,
                LocalDate.of(2026, 11, 23),
                new DutyList.Handover(DayOfWeek.MONDAY, LocalTime.of(8, 0)),
                List.of("mara.holt", "ivo.brandt", "finn.dahl"),
                List.of(new DutyList.Cover(LocalDate.of(2026, 11, 28), LocalDate.of(2026, 11, 30), "tove.lind")));
        assertThat(list.at(Instant.parse("2026-11-23T06:59:00Z"))).contains("finn.dahl");
        assertThat(list.at(Instant.parse("2026-11-23T07:00:00Z"))).contains("mara.holt");
        assertThat(list.at(Instant.parse("2026-11-28T12:00:00Z"))).contains("tove.lind");
        assertThat(list.at(Instant.parse("2026-11-30T06:59:00Z"))).contains("tove.lind");
        assertThat(list.at(Instant.parse("2026-11-30T07:00:00Z"))).contains("ivo.brandt");
        assertThat(list.at(Instant.parse("2026-01-01T00:00:00Z"))).isPresent();
        assertThat(list.ahead(Instant.parse("2026-11-24T00:00:00Z"), 4))
                .extracting(DutyList.Watch::person)
                .containsExactly("mara.holt", "tove.lind", "ivo.brandt", "finn.dahl");
        DutyList swapped = list.with(list.swap(LocalDate.of(2026, 12, 3), LocalDate.of(2026, 12, 7)));
        assertThat(swapped.ahead(Instant.parse("2026-11-24T00:00:00Z"), 5))
                .extracting(DutyList.Watch::person)
                .containsExactly("mara.holt", "tove.lind", "finn.dahl", "ivo.brandt", "mara.holt");
        assertThat(list.swap(LocalDate.of(2026, 12, 3), LocalDate.of(2026, 12, 24)))
                .isEmpty();
        // somebody is on duty at every hour of a year, and each for as long as the others
        var hours = new ArrayList<String>();
        Instant at = Instant.parse("2026-12-07T07:00:00Z");
        for (int hour = 0; hour < 24 * 7 * 3; hour++) {
            hours.add(list.at(at.plus(Duration.ofHours(hour))).orElseThrow());
        }
        assertThat(hours.stream().filter("finn.dahl"::equals)).hasSize(24 * 7);
    }

    @Test
    @DisplayName("of a storm let a few out, and the rest together when it is over")
    void gather() {
        Instant now = Instant.parse("2026-11-23T02:00:00Z");
        var made = new ArrayList<Instant>();
        var releases = new ArrayList<Instant>();
        for (int i = 0; i < 200; i++) {
            Instant at = now.plusMillis(i * 20L);
            releases.add(Gathering.release(made, at));
            made.add(at);
        }
        assertThat(releases.subList(0, 3)).containsExactlyElementsOf(made.subList(0, 3));
        assertThat(releases.subList(3, 200)).containsOnly(now.plus(Gathering.SPAN));
        Instant later = now.plus(Duration.ofMinutes(5));
        assertThat(Gathering.release(made, later)).isEqualTo(later);
    }
}
