package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Optional;

/** Says a cron expression as a phrase that stands for the same times, where there is one. */
final class CronPhrase {

    private static final int MOST_TIMES_LISTED = 8;

    private CronPhrase() {}

    static Optional<Phrase> of(Cron cron) {
        Optional<Rhythm> rhythm = rhythm(cron.times());
        Optional<DayChoice> choice = choice(cron);
        Optional<Bounds> bounds = bounds(cron.years());
        return rhythm.isPresent() && choice.isPresent() && bounds.isPresent()
                ? Optional.of(new Phrase(rhythm.get(), choice.get(), bounds.get()))
                : Optional.empty();
    }

    private static Optional<DayChoice> choice(Cron cron) {
        if (cron.items().isEmpty()) {
            return Optional.of(
                    new DayChoice.Weekly(cron.weekdays() == 0 ? Weekdays.ALL : cron.weekdays(), cron.months()));
        }
        return cron.weekdays() != 0
                ? Optional.empty()
                : Optional.of(new DayChoice.InPeriod(Period.MONTH, 1, cron.months(), cron.items()));
    }

    /** Years without a gap are a first and a last day. */
    private static Optional<Bounds> bounds(Optional<BitSet> years) {
        if (years.isEmpty()) {
            return Optional.of(Bounds.NONE);
        }
        int first = years.get().nextSetBit(0);
        int last = years.get().length() - 1;
        return years.get().cardinality() == last - first + 1
                ? Optional.of(new Bounds(
                        Optional.of(LocalDate.of(first, 1, 1)),
                        Optional.of(LocalDate.of(last, 12, 31)),
                        Optional.empty()))
                : Optional.empty();
    }

    private static Optional<Rhythm> rhythm(Times.Grid times) {
        List<Integer> minutes = bits(times.minutes());
        List<Integer> hours = bits(times.hours());
        int first = minutes.get(0);
        boolean everyHour = times.everyHour();
        if (everyHour && step(minutes, 60) > 0) {
            return Optional.of(new Rhythm.Steps(step(minutes, 60), Optional.empty()));
        }
        int hourStep = step(hours, 24);
        if (everyHour || hourStep > 0 && hours.size() * minutes.size() > 2) {
            return Optional.of(
                    minutes.equals(List.of(0))
                            ? new Rhythm.Steps(hourStep * 60, Optional.empty())
                            : new Rhythm.Past(hourStep, minutes, Optional.empty()));
        }
        if (step(minutes, 60) > 0 && isRow(hours, 1) && minutes.size() > 1) {
            int step = step(minutes, 60);
            return Optional.of(new Rhythm.Steps(
                    step,
                    Optional.of(new Rhythm.Between(hours.get(0) * 60, hours.get(hours.size() - 1) * 60 + 60 - step))));
        }
        if (minutes.size() == 1 && hours.size() > 3 && isRow(hours, hours.get(1) - hours.get(0))) {
            int step = hours.get(1) - hours.get(0);
            return Optional.of(new Rhythm.Steps(
                    step * 60,
                    Optional.of(
                            new Rhythm.Between(hours.get(0) * 60 + first, hours.get(hours.size() - 1) * 60 + first))));
        }
        return hours.size() * minutes.size() <= MOST_TIMES_LISTED
                ? Optional.of(new Rhythm.At(hours.stream()
                        .flatMap(hour -> minutes.stream().map(minute -> hour * 60 + minute))
                        .toList()))
                : Optional.empty();
    }

    /** The step of numbers that begin at 0 and repeat evenly through the whole, or 0 where they do not. */
    static int step(List<Integer> numbers, int whole) {
        int step = whole / numbers.size();
        return step * numbers.size() == whole && numbers.get(0) == 0 && isRow(numbers, step) ? step : 0;
    }

    private static boolean isRow(List<Integer> numbers, int step) {
        for (int i = 1; i < numbers.size(); i++) {
            if (numbers.get(i) - numbers.get(i - 1) != step) {
                return false;
            }
        }
        return true;
    }

    static List<Integer> bits(long mask) {
        var bits = new ArrayList<Integer>();
        for (int i = 0; i < 64; i++) {
            if ((mask >>> i & 1) == 1) {
                bits.add(i);
            }
        }
        return bits;
    }
}
