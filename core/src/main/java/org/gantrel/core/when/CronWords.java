package org.gantrel.core.when;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.gantrel.core.text.Words;

/** Says in plain English what a cron expression stands for that no phrase stands for. */
final class CronWords {

    private static final int MOST_TIMES_LISTED = 8;

    private CronWords() {}

    static String words(Cron cron) {
        String times = times(cron.times());
        String days = days(cron);
        String phrase =
                times.startsWith("at ") ? days + " " + times : times + (days.equals("every day") ? "" : " on " + days);
        return phrase + cron.years().map(years -> " of " + spans(years)).orElse("");
    }

    private static String days(Cron cron) {
        Stream<DayChoice> choices = cron.items().isEmpty()
                ? Stream.of(new DayChoice.Weekly(cron.weekdays() == 0 ? Weekdays.ALL : cron.weekdays(), cron.months()))
                : Stream.of(
                        new DayChoice.InPeriod(Period.MONTH, 1, cron.months(), cron.items()),
                        new DayChoice.Weekly(cron.weekdays(), cron.months()));
        return choices.filter(choice -> !(choice instanceof DayChoice.Weekly weekly) || weekly.weekdays() != 0)
                .map(choice -> choice.head() + choice.season())
                .collect(Collectors.joining(", or "));
    }

    private static String times(Times.Grid times) {
        BitSet minutes = BitSet.valueOf(new long[] {times.minutes()});
        BitSet hours = BitSet.valueOf(new long[] {times.hours()});
        if (minutes.cardinality() * hours.cardinality() <= MOST_TIMES_LISTED) {
            var listed = new ArrayList<String>();
            for (int second : times.all()) {
                listed.add(Rhythm.clock(second / 60));
            }
            return "at " + Words.list(listed);
        }
        String within =
                times.everyHour() ? "" : " in the " + (hours.cardinality() == 1 ? "hour " : "hours ") + spans(hours);
        int step = CronPhrase.step(CronPhrase.bits(times.minutes()), 60);
        if (step > 0 && step < 60) {
            return "every " + (step == 1 ? "minute" : step + " minutes") + within;
        }
        return "every hour at " + (minutes.cardinality() == 1 ? "minute " : "minutes ") + spans(minutes) + within;
    }

    private static String spans(BitSet numbers) {
        List<String> spans = new ArrayList<>();
        for (int from = numbers.nextSetBit(0); from >= 0; ) {
            int to = numbers.nextClearBit(from) - 1;
            spans.add(from == to ? "" + from : from + (to == from + 1 ? " and " : " to ") + to);
            from = numbers.nextSetBit(to + 1);
        }
        return Words.list(spans);
    }
}
