package org.gantrel.core.when;

import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.gantrel.core.text.Words;

/** At what times of its days a phrase comes round. Times are minutes since midnight. */
sealed interface Rhythm {

    int DAY = 1440;

    Times times();

    /** The words for it. */
    String words();

    /** Times one by one. */
    record At(List<Integer> minutes) implements Rhythm {
        public At {
            minutes = minutes.stream().sorted().distinct().toList();
        }

        @Override
        public Times times() {
            return seconds(minutes.stream().mapToInt(Integer::intValue));
        }

        @Override
        public String words() {
            return "at " + Words.list(minutes.stream().map(Rhythm::clock).toList());
        }
    }

    /**
     * Even steps through the day from midnight, or from the start of a part of it to its end.
     *
     * @param step in minutes
     */
    record Steps(int step, Optional<Between> between) implements Rhythm {
        @Override
        public Times times() {
            int from = between.map(Between::from).orElse(0);
            int length = between.map(Between::length).orElse(DAY - 1);
            return seconds(IntStream.rangeClosed(0, length / step).map(place -> (from + place * step) % DAY));
        }

        @Override
        public String words() {
            boolean hours = step % 60 == 0;
            int count = hours ? step / 60 : step;
            String unit = hours ? "hour" : "minute";
            return "every " + (count == 1 ? unit : Words.count(count, unit))
                    + between.map(part -> " between " + clock(part.from()) + " and " + clock(part.to()))
                            .orElse("");
        }
    }

    /** Minutes of every hour, or of every n-th hour from midnight. */
    record Past(int everyHours, List<Integer> minutes) implements Rhythm {
        public Past {
            minutes = minutes.stream().sorted().distinct().toList();
        }

        @Override
        public Times times() {
            return seconds(IntStream.range(0, 24)
                    .filter(hour -> hour % everyHours == 0)
                    .flatMap(hour -> minutes.stream().mapToInt(minute -> hour * 60 + minute)));
        }

        @Override
        public String words() {
            return "every " + (everyHours == 1 ? "hour" : everyHours + " hours") + " at "
                    + Words.list(minutes.stream().map(":%02d"::formatted).toList());
        }
    }

    /** A part of the day, both ends included; one that ends before it begins goes on past midnight. */
    record Between(int from, int to) {
        int length() {
            return to >= from ? to - from : to - from + DAY;
        }
    }

    private static Times seconds(IntStream minutes) {
        return new Times.Listed(minutes.map(minute -> minute * 60));
    }

    static String clock(int minute) {
        return "%02d:%02d".formatted(minute / 60, minute % 60);
    }
}
