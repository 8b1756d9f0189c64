package org.gantrel.bench;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.schedule.Plan;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;
import org.springframework.scheduling.support.CronExpression;

/**
 * How fast the next times of schedules are found, beside a well-known reading of the same expressions; how long a
 * forecast takes; and that what never comes is known at once.
 */
final class WhenBench {

    private static final ZoneId OSLO = ZoneId.of("Europe/Oslo");
    private static final Instant START = Instant.parse("2026-01-01T00:00:00Z");
    private static final int CALLS = 300_000;
    private static final int ROUNDS = 5;

    /** Our expression, and the same with the field for seconds that the other reading wants. */
    private static final Map<String, String> SAME = Map.of(
            "30 2 * * *", "0 30 2 * * *",
            "45 6 * * 1-5", "0 45 6 * * 1-5",
            "*/15 * * * *", "0 */15 * * * *",
            "0 22 3 * *", "0 0 22 3 * *",
            "20 7,10,13,16 * * 1-5", "0 20 7,10,13,16 * * 1-5",
            "every day at 06:00 and 18:00", "0 0 6,18 * * *",
            "every Monday at 06:20", "0 20 6 * * 1",
            "every weekday at 19:00", "0 0 19 * * 1-5",
            "last Friday of every month at 17:00", "0 0 17 ? * 5L",
            "day 1 of every month at 05:00", "0 0 5 1 * *");

    private static final List<String> IMPOSSIBLE = List.of(
            "0 0 30 2 *",
            "0 0 31 4,6 *",
            "day 30 of February at 05:00",
            "DTSTART:20260101T000000 RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30",
            "DTSTART:20260101T000000 RRULE:FREQ=DAILY;BYMONTH=2;BYMONTHDAY=30",
            "DTSTART:20260101T000000 RRULE:FREQ=MINUTELY;BYMONTH=2;BYMONTHDAY=30");

    private WhenBench() {}

    static void run() {
        next();
        forecast();
        impossible();
    }

    private static void next() {
        var ours = new ArrayList<Double>();
        var theirs = new ArrayList<Double>();
        for (int round = 0; round < ROUNDS; round++) {
            double our = 0;
            double their = 0;
            for (Map.Entry<String, String> each : SAME.entrySet()) {
                our += ours(When.parse(each.getKey()));
                their += theirs(CronExpression.parse(each.getValue()));
            }
            ours.add(our / SAME.size());
            theirs.add(their / SAME.size());
        }
        double our = Bench.percentile(ours, 50);
        double their = Bench.percentile(theirs, 50);
        Bench.line(
                "next of " + SAME.size() + " common schedules",
                perSecond(our),
                "CronExpression " + perSecond(their),
                their / our,
                "ratio at least 5");
    }

    private static String perSecond(double nanosEach) {
        return String.format(Locale.ROOT, "%.2f million a second", 1e3 / nanosEach);
    }

    private static double ours(Timetable timetable) {
        Instant at = START;
        long begin = System.nanoTime();
        for (int i = 0; i < CALLS; i++) {
            at = timetable.next(at, OSLO).orElse(START);
        }
        return (System.nanoTime() - begin) / (double) CALLS;
    }

    private static double theirs(CronExpression expression) {
        int calls = CALLS / 5;
        ZonedDateTime at = START.atZone(OSLO);
        long begin = System.nanoTime();
        for (int i = 0; i < calls; i++) {
            ZonedDateTime next = expression.next(at);
            at = next == null ? START.atZone(OSLO) : next;
        }
        return (System.nanoTime() - begin) / (double) calls;
    }

    private static void forecast() {
        List<String> forms = List.copyOf(SAME.keySet());
        var plans = new ArrayList<Plan>();
        for (int i = 0; i < 10_000; i++) {
            plans.add(Plan.of(When.parse(forms.get(i % forms.size())), OSLO));
        }
        var times = new ArrayList<Double>();
        long starts = 0;
        for (int round = 0; round < ROUNDS; round++) {
            starts = 0;
            Instant until = START.plus(Duration.ofDays(31));
            long begin = System.nanoTime();
            for (Plan plan : plans) {
                Optional<Instant> next = plan.nextStart(START);
                while (next.isPresent() && next.get().isBefore(until)) {
                    starts++;
                    next = plan.nextStart(next.get());
                }
            }
            times.add((double) (System.nanoTime() - begin));
        }
        double taken = Bench.percentile(times, 50);
        Bench.line(
                "forecast of 10,000 schedules over 31 days, " + starts + " starts",
                Bench.millis(taken),
                "a start " + String.format(Locale.ROOT, "%.0f ns", taken / starts),
                taken / 1.5e9,
                "under 1.5 s (ratio to that)");
    }

    private static void impossible() {
        double slowest = 0;
        for (String expression : IMPOSSIBLE) {
            Timetable timetable = When.parse(expression);
            for (int i = 0; i < 20; i++) {
                timetable.next(START, OSLO);
            }
            var times = new ArrayList<Double>();
            for (int i = 0; i < 50; i++) {
                long begin = System.nanoTime();
                timetable.next(START, OSLO);
                times.add((double) (System.nanoTime() - begin));
            }
            slowest = Math.max(slowest, Bench.percentile(times, 95));
        }
        Bench.line(
                "next of the slowest of " + IMPOSSIBLE.size() + " impossible rules, p95",
                Bench.millis(slowest),
                "the promise 5.0 ms",
                slowest / 5e6,
                "under 5 ms");
    }
}
