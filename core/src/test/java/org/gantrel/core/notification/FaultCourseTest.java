package org.gantrel.core.notification;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import org.gantrel.core.job.JobScope;
import org.gantrel.core.notification.FaultCourse.Fault;
import org.gantrel.core.notification.FaultCourse.Tell;
import org.gantrel.core.notification.FaultCourse.Told;
import org.gantrel.core.notification.FaultCourse.Why;
import org.gantrel.core.notification.NotificationRule.Escalation;
import org.gantrel.core.notification.NotificationRule.Urgency;
import org.junit.jupiter.api.DisplayName;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;

/**
 * Random histories of a job's ends against the written rule, minute by minute: the N-th bad end in a row is told once, then
 * each reminder and each further step at its minute unless somebody sees to it, and the good end to those who were told.
 */
@DisplayName("What is told of a fault")
class FaultCourseTest {

    private static final Instant BEGIN = Instant.parse("2026-11-23T00:00:00Z");
    private static final int MINUTES = 600;
    private static final List<Receiver> FIRST = List.of(new Receiver.Address("first@example.org"));
    private static final List<Receiver> SECOND = List.of(new Receiver.Address("second@example.org"));

    static IntStream seeds() {
        return IntStream.range(0, 500);
    }

    private static NotificationRule rule(Random random) {
        Optional<Duration> remind =
                random.nextBoolean() ? Optional.of(Duration.ofMinutes(1 + random.nextInt(90))) : Optional.empty();
        List<Escalation> then = random.nextBoolean()
                ? List.of(new Escalation(Duration.ofMinutes(1 + random.nextInt(200)), SECOND))
                : List.of();
        return new NotificationRule(
                "r",
                "t",
                "",
                new JobScope(List.of(), List.of(), List.of()),
                Set.of(Happening.FAILED),
                1 + random.nextInt(3),
                "",
                FIRST,
                "mail",
                Urgency.USUAL,
                remind,
                then,
                "",
                List.of());
    }

    /** What happens in one minute. */
    private enum Event {
        NOTHING,
        BAD,
        GOOD,
        SEEN_TO
    }

    @ParameterizedTest
    @MethodSource("seeds")
    void isTheWrittenRule(int seed) {
        var random = new Random(seed);
        NotificationRule rule = rule(random);
        List<Event> events = IntStream.range(0, MINUTES)
                .mapToObj(i -> random.nextInt(12) > 0 ? Event.NOTHING : Event.values()[random.nextInt(4)])
                .toList();
        assertThat(told(rule, events)).isEqualTo(naive(rule, events));
    }

    @ParameterizedTest
    @DisplayName("waits as long again at most for what is due, where the clock is put back, and loses none of it")
    @MethodSource("seeds")
    void isNotFartherAway(int seed) {
        var random = new Random(seed);
        NotificationRule rule = rule(random);
        Instant last = BEGIN.plus(Duration.ofMinutes(random.nextInt(300)));
        var told = new Told(BEGIN, last, random.nextInt(1 + rule.then().size()));
        Instant now = last.minus(Duration.ofMinutes(random.nextInt(600) - 100L));
        Told after = FaultCourse.putBack(told, now);
        assertThat(FaultCourse.putBack(after, now)).isEqualTo(after);
        Optional<Instant> before = FaultCourse.next(new Fault(9, false, false, Map.of("r", told)), List.of(rule));
        Optional<Instant> next = FaultCourse.next(new Fault(9, false, false, Map.of("r", after)), List.of(rule));
        assertThat(next.isPresent()).isEqualTo(before.isPresent());
        Stream<Duration> lengths =
                Stream.concat(rule.remind().stream(), rule.then().stream().map(Escalation::after));
        lengths.max(Duration::compareTo)
                .ifPresent(longest -> next.ifPresent(at ->
                        assertThat(at).isBeforeOrEqualTo(now.plus(longest)).isBeforeOrEqualTo(before.get())));
    }

    private static List<String> told(NotificationRule rule, List<Event> events) {
        var told = new ArrayList<String>();
        Map<String, Told> by = new HashMap<>();
        int count = 0;
        boolean seenTo = false;
        for (int minute = 0; minute < events.size(); minute++) {
            Instant now = BEGIN.plus(Duration.ofMinutes(minute));
            Event event = events.get(minute);
            List<Tell> tells = new ArrayList<>();
            if (event == Event.SEEN_TO && count > 0) {
                seenTo = true;
            } else if (event == Event.BAD) {
                count++;
                tells.addAll(FaultCourse.atBadEnd(new Fault(count, seenTo, false, by), List.of(rule)));
            } else if (event == Event.GOOD && count > 0) {
                tells.addAll(FaultCourse.atGoodEnd(new Fault(count, seenTo, false, by), List.of(rule)));
                count = 0;
                seenTo = false;
                by.clear();
            }
            note(tells, by, now, minute, told);
            var fault = new Fault(count, seenTo, count == 0, by);
            Optional<Instant> next = FaultCourse.next(fault, List.of(rule));
            List<Tell> due = FaultCourse.due(fault, List.of(rule), now);
            assertThat(!due.isEmpty())
                    .as("what is due is due at its time")
                    .isEqualTo(next.filter(at -> !at.isAfter(now)).isPresent());
            note(due, by, now, minute, told);
        }
        return told;
    }

    private static void note(List<Tell> tells, Map<String, Told> by, Instant now, int minute, List<String> told) {
        for (Tell tell : tells) {
            told.add(minute + " " + tell.why() + " " + tell.step());
            if (tell.why() != Why.RECOVERED) {
                by.put("r", FaultCourse.after(Optional.ofNullable(by.get("r")), tell, now));
            }
        }
    }

    /** The rule as one would explain it, each minute by itself. */
    private static List<String> naive(NotificationRule rule, List<Event> events) {
        var told = new ArrayList<String>();
        int bad = 0;
        int first = -1;
        int last = -1;
        boolean further = false;
        boolean seenTo = false;
        for (int minute = 0; minute < events.size(); minute++) {
            switch (events.get(minute)) {
                case BAD -> {
                    bad++;
                    if (first < 0 && bad >= rule.after()) {
                        told.add(minute + " FIRST 0");
                        first = minute;
                        last = minute;
                    }
                }
                case GOOD -> {
                    if (first >= 0) {
                        told.add(minute + " RECOVERED 0");
                    }
                    bad = 0;
                    first = -1;
                    further = false;
                    seenTo = false;
                }
                case SEEN_TO -> seenTo |= bad > 0;
                default -> {}
            }
            if (first < 0 || seenTo) {
                continue;
            }
            boolean step = !rule.then().isEmpty()
                    && !further
                    && minute - first >= rule.then().get(0).after().toMinutes();
            boolean again = rule.remind().isPresent()
                    && minute - last >= rule.remind().get().toMinutes();
            if (step) {
                told.add(minute + " FURTHER 1");
                further = true;
                last = minute;
            } else if (again) {
                told.add(minute + " REMINDER 0");
                last = minute;
            }
        }
        return told;
    }
}
