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

    private static final List<String> RULES = List.of(
            "FREQ=MINUTELY;BYSECOND=0;BYSETPOS=2",
            "FREQ=HOURLY;BYMINUTE=0;BYSETPOS=2;UNTIL=20300101T000000Z",
            "FREQ=HOURLY;INTERVAL=168;BYDAY=TU",
            "FREQ=HOURLY;INTERVAL=9997;BYMONTH=2;BYMONTHDAY=29",
            "FREQ=MINUTELY;INTERVAL=1439;BYDAY=MO;BYHOUR=5",
            "FREQ=MINUTELY;BYMONTH=2;BYMONTHDAY=29;BYHOUR=3;BYMINUTE=4;COUNT=100000",
            "FREQ=MINUTELY;BYMONTH=6;BYDAY=SU;BYHOUR=4;BYMINUTE=1;COUNT=90000",
            "FREQ=MINUTELY;COUNT=100000",
            "FREQ=DAILY;COUNT=100000",
            "FREQ=DAILY;INTERVAL=7;BYDAY=TU",
            "FREQ=WEEKLY;BYDAY=MO;BYSETPOS=2",
            "FREQ=WEEKLY;INTERVAL=3;BYDAY=SU,MO;BYHOUR=2,3;BYSETPOS=-1;COUNT=1000",
            "FREQ=MONTHLY;BYDAY=MO;BYSETPOS=6",
            "FREQ=MONTHLY;BYDAY=MO,TU,WE,TH,FR;BYSETPOS=-1;COUNT=5000",
            "FREQ=MONTHLY;INTERVAL=7;BYDAY=FR;BYMONTHDAY=13",
            "FREQ=MONTHLY;BYDAY=FR;BYMONTHDAY=13;BYSETPOS=2",
            "FREQ=YEARLY;INTERVAL=4;BYMONTH=2;BYMONTHDAY=29",
            "FREQ=YEARLY;BYWEEKNO=53;BYMONTH=6",
            "FREQ=YEARLY;BYWEEKNO=-53;BYDAY=MO",
            "FREQ=YEARLY;BYYEARDAY=366;INTERVAL=3",
            "FREQ=YEARLY;BYDAY=MO,TU,WE,TH,FR,SA,SU;BYSETPOS=200",
            "FREQ=YEARLY;BYDAY=53MO;BYMONTH=3");

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
        varied();
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
                "ratio at least 15");
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

    /** Each is read anew, so that nothing is known of it yet; of five such times the median counts. */
    private static void varied() {
        List<String> expressions = expressions();
        var medians = new ArrayList<Double>();
        for (int warm = 0; warm < 3; warm++) {
            medians.clear();
            for (String expression : expressions) {
                var times = new ArrayList<Double>();
                for (int i = 0; i < ROUNDS; i++) {
                    Timetable timetable = When.parse(expression).startingAt(START, OSLO);
                    long begin = System.nanoTime();
                    timetable.next(START, OSLO);
                    times.add((double) (System.nanoTime() - begin));
                }
                medians.add(Bench.percentile(times, 50));
            }
        }
        double slowest = Bench.percentile(medians, 100);
        Bench.line(
                "first next of the slowest of " + expressions.size() + " varied expressions",
                Bench.millis(slowest) + ", p99 " + Bench.millis(Bench.percentile(medians, 99)),
                "the promise 5.0 ms, 2.0 ms",
                slowest / 5e6,
                "under 5 ms, p99 under 2 ms");
    }

    private static List<String> expressions() {
        var all = new ArrayList<>(IMPOSSIBLE);
        all.addAll(SAME.keySet());
        for (int start : List.of(1970, 1999, 2025)) {
            for (String rule : RULES) {
                all.add("DTSTART;TZID=Europe/Oslo:" + start + "0105T013000 RRULE:" + rule);
            }
        }
        for (int i = 1; all.size() < 200; i++) {
            all.add(i % 60 + " " + i % 24 + " " + (1 + i % 31) + " */" + (1 + i % 6) + " " + i % 7);
            all.add((1 + i % 10) + " working days before the last Friday of every "
                    + List.of("month", "quarter", "year").get(i % 3) + " at " + i % 24 + ":30");
            all.add("every " + (2 + i % 50) + " days at 10:" + (10 + i % 50) + " from 1990-01-01, " + (100 + i)
                    + " times");
        }
        return all;
    }
}
