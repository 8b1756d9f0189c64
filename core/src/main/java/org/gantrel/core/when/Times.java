package org.gantrel.core.when;

import java.util.Arrays;
import java.util.stream.IntStream;

/** Times of the day, in seconds since midnight by the local clock. */
sealed interface Times {

    int DAY = 86_400;

    /** The first time at or after a second of the day; -1 where the day has none any more. */
    int next(int second);

    /**
     * Whether every hour of the day has a time. Then both passes of an hour that exists twice count; otherwise the first
     * alone does.
     */
    boolean everyHour();

    /** All of them, in order. */
    int[] all();

    /** Hours and minutes that combine freely, as the fields of a cron expression do. */
    record Grid(int hours, long minutes) implements Times {
        private static final int EVERY_HOUR = (1 << 24) - 1;

        @Override
        public int next(int second) {
            int minute = (second + 59) / 60;
            int hour = minute / 60;
            if (hour > 23) {
                return -1;
            }
            if ((hours >>> hour & 1) == 1) {
                long rest = minutes >>> minute % 60;
                if (rest != 0) {
                    return (minute + Long.numberOfTrailingZeros(rest)) * 60;
                }
            }
            int later = hours >>> hour + 1;
            return later == 0
                    ? -1
                    : ((hour + 1 + Integer.numberOfTrailingZeros(later)) * 60 + Long.numberOfTrailingZeros(minutes))
                            * 60;
        }

        @Override
        public boolean everyHour() {
            return hours == EVERY_HOUR;
        }

        @Override
        public int[] all() {
            return IntStream.range(0, 1440)
                    .filter(minute -> (hours >>> minute / 60 & 1) == 1 && (minutes >>> minute % 60 & 1) == 1)
                    .map(minute -> minute * 60)
                    .toArray();
        }
    }

    /** Times one by one. */
    final class Listed implements Times {
        private final int[] seconds;
        private final boolean everyHour;

        Listed(int[] seconds, boolean everyHour) {
            this.seconds = seconds;
            this.everyHour = everyHour;
        }

        /** Times of a day, which they stand on. */
        static Listed of(IntStream times) {
            int[] seconds = times.sorted().distinct().toArray();
            return new Listed(seconds, eachHour(seconds));
        }

        static boolean eachHour(int[] seconds) {
            return Arrays.stream(seconds)
                            .map(second -> second / 3600 % 24)
                            .distinct()
                            .count()
                    == 24;
        }

        @Override
        public int next(int second) {
            int place = Arrays.binarySearch(seconds, second);
            int at = place >= 0 ? place : -place - 1;
            return at < seconds.length ? seconds[at] : -1;
        }

        @Override
        public boolean everyHour() {
            return everyHour;
        }

        @Override
        public int[] all() {
            return seconds.clone();
        }
    }
}
