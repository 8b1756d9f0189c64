package org.gantrel.core.when;

import java.time.Month;
import java.time.format.TextStyle;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Locale;
import org.gantrel.core.text.Words;

/** Says in plain English what the fields of a rule stand for. */
final class CronWords {

    private static final int MOST_TIMES_LISTED = 6;

    private CronWords() {}

    static String phrase(BitSet minutes, BitSet hours, DayRule days, BitSet months, BitSet years) {
        String times = times(minutes, hours);
        String dayWords = days.phrase();
        boolean everyDay = dayWords.equals("every day");
        String phrase;
        if (times.startsWith("at ")) {
            phrase = dayWords + " " + times;
        } else {
            phrase = everyDay ? times : times + " on " + dayWords;
        }
        return phrase + monthWords(months) + yearWords(years);
    }

    private static String times(BitSet minutes, BitSet hours) {
        boolean everyHour = hours.cardinality() == 24;
        int step = step(minutes, 60);
        if (everyHour && minutes.cardinality() == 1) {
            return "every hour at minute " + minutes.nextSetBit(0);
        }
        if (minutes.cardinality() * hours.cardinality() <= MOST_TIMES_LISTED) {
            var times = new ArrayList<String>();
            hours.stream().forEach(hour -> minutes.stream()
                    .forEach(minute -> times.add("%02d:%02d".formatted(hour, minute))));
            return "at " + Words.list(times);
        }
        String within = everyHour ? "" : " in the " + (hours.cardinality() == 1 ? "hour " : "hours ") + spans(hours);
        if (step == 1) {
            return "every minute" + within;
        }
        if (step > 1) {
            return "every " + step + " minutes" + within;
        }
        return "every hour at " + (minutes.cardinality() == 1 ? "minute " : "minutes ") + spans(minutes) + within;
    }

    /** The step of numbers that begin at 0 and repeat evenly through the whole, or 0 where they do not. */
    private static int step(BitSet numbers, int whole) {
        int step = whole / numbers.cardinality();
        if (step * numbers.cardinality() != whole) {
            return 0;
        }
        return numbers.stream().allMatch(number -> number % step == 0) ? step : 0;
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

    private static String monthWords(BitSet months) {
        if (months.cardinality() == 12) {
            return "";
        }
        return " in "
                + Words.list(months.stream()
                        .mapToObj(number -> Month.of(number).getDisplayName(TextStyle.FULL, Locale.ENGLISH))
                        .toList());
    }

    private static String yearWords(BitSet years) {
        return years.cardinality() > 200 ? "" : " of " + spans(years);
    }
}
