package org.gantrel.core.when;

import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import org.gantrel.core.text.Words;

/** At what times of its days a phrase comes round. Times are minutes since the midnight that begins it. */
sealed interface Rhythm {

    int DAY = 1440;

    /** The times in seconds since the day began, in order; those after midnight are a day's seconds further. */
    int[] seconds();

    /** The times of the day itself. */
    default Times times() {
        int[] all = seconds();
        return new Times.Listed(
                Arrays.stream(all).filter(second -> second < Times.DAY).toArray(), Times.Listed.eachHour(all));
    }

    /** The times after the midnight that ends the day, in seconds since that; empty for most. */
    default Optional<Times> afterMidnight() {
        int[] all = seconds();
        int[] later = Arrays.stream(all)
                .filter(second -> second >= Times.DAY)
                .map(second -> second - Times.DAY)
                .toArray();
        return later.length == 0 ? Optional.empty() : Optional.of(new Times.Listed(later, Times.Listed.eachHour(all)));
    }

    /** The words for it. */
    String words();

    /** Times one by one. */
    record At(List<Integer> minutes) implements Rhythm {
        public At {
            minutes = minutes.stream().sorted().distinct().toList();
        }

        @Override
        public int[] seconds() {
            return minutes.stream().mapToInt(minute -> minute * 60).toArray();
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
        public int[] seconds() {
            int from = between.map(Between::from).orElse(0);
            int length = between.map(Between::length).orElse(DAY - 1);
            return IntStream.rangeClosed(0, length / step)
                    .map(place -> (from + place * step) * 60)
                    .toArray();
        }

        @Override
        public String words() {
            boolean hours = step % 60 == 0;
            int count = hours ? step / 60 : step;
            String unit = hours ? "hour" : "minute";
            return "every " + (count == 1 ? unit : Words.count(count, unit))
                    + between.map(Between::words).orElse("");
        }
    }

    /** Minutes of every hour, or of every n-th hour from midnight, that lie in a part of the day where one is given. */
    record Past(int everyHours, List<Integer> minutes, Optional<Between> between) implements Rhythm {
        public Past {
            minutes = minutes.stream().sorted().distinct().toList();
        }

        @Override
        public int[] seconds() {
            return IntStream.range(0, 48)
                    .filter(hour -> hour % 24 % everyHours == 0)
                    .flatMap(hour -> minutes.stream().mapToInt(minute -> hour * 60 + minute))
                    .filter(minute -> between.map(part -> part.holds(minute)).orElse(minute < DAY))
                    .map(minute -> minute * 60)
                    .toArray();
        }

        @Override
        public String words() {
            return "every " + (everyHours == 1 ? "hour" : everyHours + " hours") + " at "
                    + Words.list(minutes.stream().map(":%02d"::formatted).toList())
                    + between.map(Between::words).orElse("");
        }
    }

    /** A part of the day, both ends included; one that ends before it begins goes on past midnight. */
    record Between(int from, int to) {
        int length() {
            return to >= from ? to - from : to - from + DAY;
        }

        boolean holds(int minute) {
            return minute >= from && minute <= from + length();
        }

        String words() {
            return " between " + clock(from) + " and " + clock(to);
        }
    }

    static String clock(int minute) {
        return "%02d:%02d".formatted(minute / 60, minute % 60);
    }
}
