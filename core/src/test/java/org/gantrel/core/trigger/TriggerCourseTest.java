package org.gantrel.core.trigger;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import org.gantrel.core.event.EventType;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.schedule.DayFilter;
import org.gantrel.core.trigger.TriggerCourse.Dropped;
import org.gantrel.core.trigger.TriggerCourse.Gathered;
import org.gantrel.core.trigger.TriggerCourse.Made;
import org.gantrel.core.trigger.TriggerCourse.Start;
import org.gantrel.core.trigger.TriggerCourse.Verdict;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

@DisplayName("What comes of an event")
class TriggerCourseTest {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
    private static final Instant BEGIN = Instant.parse("2026-03-27T00:00:00Z");

    private static Trigger trigger(Duration delay, Optional<Limit> limit, Optional<OpenHours> hours) {
        return new Trigger(
                "t",
                EventType.CALL_RECEIVED,
                new JobScope(List.of(), List.of(), List.of()),
                "",
                Set.of(),
                Trigger.Source.NONE,
                "",
                Map.of(),
                delay,
                limit,
                hours);
    }

    /** Whether a moment is within hours, looked at as a clock on the wall shows it. */
    private static boolean isOpen(OpenHours hours, Instant at) {
        LocalTime time = at.atZone(hours.zone()).toLocalTime();
        LocalTime until = hours.until().orElse(LocalTime.MIDNIGHT);
        boolean overMidnight = !until.isAfter(hours.from());
        return overMidnight
                ? !time.isBefore(hours.from()) || time.isBefore(until)
                : !time.isBefore(hours.from()) && time.isBefore(until);
    }

    @Test
    @DisplayName("keeps to limit and hours in 2,000 random nights: no event is lost, none is started twice")
    void keepsToItsRules() {
        for (int seed = 0; seed < 2_000; seed++) {
            var random = new Random(seed);
            Optional<Limit> limit = random.nextBoolean()
                    ? Optional.of(new Limit(
                            1 + random.nextInt(3), Duration.ofMinutes(1 + random.nextInt(90)), random.nextBoolean()))
                    : Optional.empty();
            LocalTime from = LocalTime.of(random.nextInt(24), random.nextInt(60));
            Optional<OpenHours> hours = random.nextBoolean()
                    ? Optional.of(new OpenHours(
                            from,
                            Optional.of(from.plusMinutes(1 + random.nextInt(1_400))),
                            OSLO,
                            "",
                            random.nextBoolean()))
                    : Optional.empty();
            night(random, trigger(Duration.ofMinutes(random.nextInt(5)), limit, hours), "seed " + seed);
        }
    }

    private static void night(Random random, Trigger trigger, String seed) {
        Map<Long, Instant> starts = new LinkedHashMap<>();
        Map<Long, Integer> events = new LinkedHashMap<>();
        int dropped = 0;
        int all = 40;
        Instant now = BEGIN;
        for (int i = 0; i < all; i++) {
            now = now.plusSeconds(random.nextInt(5_000));
            var made = new ArrayList<Made>();
            for (Map.Entry<Long, Instant> start : starts.entrySet()) {
                made.add(new Made(
                        start.getKey(), start.getValue(), start.getValue().isAfter(now)));
            }
            Verdict verdict = TriggerCourse.decide(trigger, now, made, DayFilter.ANY_DAY);
            if (verdict instanceof Start start) {
                assertThat(start.at()).as(seed).isAfterOrEqualTo(now.plus(trigger.delay()));
                trigger.hours().ifPresent(hours -> assertThat(isOpen(hours, start.at()))
                        .as(seed + " at " + start.at())
                        .isTrue());
                starts.put((long) i, start.at());
                events.put((long) i, 1);
            } else if (verdict instanceof Gathered gathered) {
                assertThat(starts.get(gathered.run())).as(seed).isAfter(now);
                events.merge(gathered.run(), 1, Integer::sum);
            } else {
                boolean mayDrop = trigger.limit()
                                .filter(limit -> !limit.gathers())
                                .isPresent()
                        || trigger.hours().filter(hours -> !hours.keeps()).isPresent();
                assertThat(mayDrop).as(seed + ": " + ((Dropped) verdict).why()).isTrue();
                dropped++;
            }
        }
        assertThat(events.values().stream().mapToInt(count -> count).sum() + dropped)
                .as(seed)
                .isEqualTo(all);
        trigger.limit().ifPresent(limit -> starts.values().forEach(start -> assertThat(starts.values().stream()
                        .filter(other -> other.isAfter(start.minus(limit.in())) && !other.isAfter(start))
                        .count())
                .as(seed + " around " + start)
                .isLessThanOrEqualTo(limit.starts())));
    }

    @ParameterizedTest(name = "at {0}: {1}")
    @CsvSource({
        "2026-03-28T21:30, 2026-03-28T22:00",
        "2026-03-28T23:30, 2026-03-28T23:30",
        "2026-03-29T05:59, 2026-03-29T05:59",
        "2026-03-29T06:00, 2026-03-29T22:00"
    })
    @DisplayName("knows hours that go over midnight and over a change of the clock")
    void knowsHours(String at, String next) {
        var hours = new OpenHours(LocalTime.of(22, 0), Optional.of(LocalTime.of(6, 0)), OSLO, "", true);
        Instant moment = ZonedDateTime.of(LocalDateTime.parse(at), OSLO).toInstant();
        assertThat(hours.next(moment, DayFilter.ANY_DAY)
                        .map(found -> found.atZone(OSLO).toLocalDateTime().toString()))
                .contains(next);
    }

    @Test
    @DisplayName("finds jobs that start one another, by the shortest way")
    void findsCircles() {
        Map<String, Set<String>> starts = Map.of("a", Set.of("b"), "b", Set.of("c"), "c", Set.of("d", "a"));
        assertThat(Circle.of("a", starts)).containsExactly("a", "b", "c", "a");
        assertThat(Circle.of("d", starts)).isEmpty();
        assertThat(Circle.of("e", Map.of("e", Set.of("e")))).containsExactly("e", "e");
    }
}
