package org.gantrel.core.when;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Random;
import java.util.stream.IntStream;
import java.util.stream.Stream;

/** Makes phrases of every form, the same ones for the same seed. */
final class PhraseMaker {

    private static final int[] STEPS = {1, 2, 5, 7, 15, 30, 45, 60, 90, 120, 360, 1440};

    private final Random random;

    private PhraseMaker(Random random) {
        this.random = random;
    }

    static Phrase any(Random random) {
        return new PhraseMaker(random).phrase();
    }

    private Phrase phrase() {
        DayChoice choice = choice();
        Rhythm rhythm = rhythm();
        Optional<LocalDate> from = choice.needsFrom() || chance(3) ? Optional.of(day()) : Optional.empty();
        Optional<LocalDate> until =
                chance(3) ? Optional.of(from.orElse(day()).plusDays(random.nextInt(900))) : Optional.empty();
        Optional<Integer> count =
                from.isPresent() && chance(3) ? Optional.of(1 + random.nextInt(40)) : Optional.empty();
        boolean none = from.isEmpty() && until.isEmpty();
        return new Phrase(rhythm, choice, none ? Bounds.NONE : new Bounds(from, until, count));
    }

    private Rhythm rhythm() {
        return switch (random.nextInt(4)) {
            case 0 -> new Rhythm.Steps(STEPS[random.nextInt(STEPS.length)], Optional.empty());
            case 1 ->
                new Rhythm.Steps(
                        STEPS[random.nextInt(STEPS.length)],
                        Optional.of(new Rhythm.Between(random.nextInt(1440), random.nextInt(1440))));
            case 2 -> past();
            default -> new Rhythm.At(some(1440));
        };
    }

    private Rhythm past() {
        Optional<Rhythm.Between> part = chance(2)
                ? Optional.empty()
                : Optional.of(new Rhythm.Between(random.nextInt(1440), random.nextInt(1440)));
        var past = new Rhythm.Past(1 + random.nextInt(12), some(60), part);
        return past.seconds().length > 0 ? past : past();
    }

    private DayChoice choice() {
        return switch (random.nextInt(7)) {
            case 0 -> new DayChoice.Weekly(1 + random.nextInt(127), months());
            case 1 -> new DayChoice.Working(months(), chance(2) ? 0 : 1 + random.nextInt(127));
            case 2 -> new DayChoice.EveryDays(2 + random.nextInt(100));
            case 3 -> new DayChoice.Once(day());
            case 4 -> weeks();
            default -> longer();
        };
    }

    private DayChoice weeks() {
        List<Item> items = chance(2)
                ? List.of(new Item.NthWorking(place(3)))
                : some(7).stream().<Item>map(Item.Weekday::new).toList();
        boolean plain = items.get(0) instanceof Item.Weekday;
        return new DayChoice.InPeriod(Period.WEEK, plain ? 2 + random.nextInt(8) : 1, PeriodDays.ALL_MONTHS, items);
    }

    private DayChoice longer() {
        Period period = List.of(Period.MONTH, Period.QUARTER, Period.YEAR).get(random.nextInt(3));
        int every = chance(3) ? 2 + random.nextInt(10) : 1;
        int months = period == Period.MONTH && every == 1 ? months() : PeriodDays.ALL_MONTHS;
        List<Item> items = Stream.generate(() -> shifted(item(period)))
                .limit(1 + random.nextInt(3))
                .distinct()
                .toList();
        return new DayChoice.InPeriod(period, every, months, items);
    }

    private Item shifted(Item item) {
        boolean end = item instanceof Item.BeforeLast;
        return chance(3) ? new Item.Shifted(new DayShift(end ? 2 : place(9), chance(2)), item) : item;
    }

    private Item item(Period period) {
        return switch (random.nextInt(period == Period.YEAR ? 7 : 6)) {
            case 0 -> new Item.DayNumber(1 + random.nextInt(31));
            case 1 -> new Item.BeforeLast(random.nextInt(20));
            case 2 -> new Item.Nth(place(5), random.nextInt(7));
            case 3 -> new Item.NthWorking(place(12));
            case 4 -> new Item.NthOfMondayToFriday(place(12));
            case 5 -> new Item.Nearest(1 + random.nextInt(31));
            default -> new Item.Easter();
        };
    }

    private int place(int most) {
        int place = 1 + random.nextInt(most);
        return chance(2) ? place : -place;
    }

    private int months() {
        return chance(2) ? PeriodDays.ALL_MONTHS : 1 + random.nextInt(PeriodDays.ALL_MONTHS);
    }

    private List<Integer> some(int below) {
        return IntStream.generate(() -> random.nextInt(below))
                .limit(1 + random.nextInt(4))
                .distinct()
                .boxed()
                .toList();
    }

    private LocalDate day() {
        return LocalDate.of(2025, 1, 1).plusDays(random.nextInt(1500));
    }

    private boolean chance(int oneIn) {
        return random.nextInt(oneIn) == 0;
    }
}
