package org.gantrel.core.when;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/** A rule in our plain English: times of the day on chosen days, for as long as it holds. */
final class Phrase implements Timetable {

    private final Rhythm rhythm;
    private final DayChoice choice;
    private final Bounds bounds;
    private final boolean begins;
    private final int[] seconds;
    private final List<LocalRule> rules;
    /** When a rule that is counted is over; it takes going through it, so it is kept for the zone asked for last. */
    private volatile End end;

    private record End(ZoneId zone, Instant at) {}

    Phrase(Rhythm rhythm, DayChoice choice, Bounds bounds) {
        this(rhythm, choice, bounds, DaySet.MONDAY_TO_FRIDAY);
    }

    private Phrase(Rhythm rhythm, DayChoice choice, Bounds bounds, DaySet working) {
        this.rhythm = rhythm;
        this.choice = choice;
        this.bounds = bounds.equals(Bounds.NONE) ? Bounds.NONE : bounds;
        this.seconds = rhythm.seconds();
        this.begins = choice.needsFrom() && bounds.from().isEmpty();
        long from = bounds.from().map(LocalDate::toEpochDay).orElse(0L);
        DaySet days = bounds.limit(choice.days(from, working));
        var both = new ArrayList<LocalRule>();
        both.add(new LocalRule(days, rhythm.times()));
        rhythm.afterMidnight().ifPresent(times -> both.add(new LocalRule(dayAfter(days), times)));
        this.rules = List.copyOf(both);
    }

    private static DaySet dayAfter(DaySet days) {
        return day -> {
            long found = days.next(day - 1);
            return found == DaySet.NEVER ? DaySet.NEVER : found + 1;
        };
    }

    Rhythm rhythm() {
        return rhythm;
    }

    DayChoice choice() {
        return choice;
    }

    Bounds bounds() {
        return bounds;
    }

    @Override
    public Kind kind() {
        return Kind.PHRASE;
    }

    @Override
    public Timetable workingOn(DaySet working) {
        return new Phrase(rhythm, choice, bounds, working);
    }

    @Override
    public List<String> cautions() {
        return choice.cautions();
    }

    @Override
    public String phrase() {
        String words =
                rhythm instanceof Rhythm.At ? choice.head() + " " + rhythm.words() : rhythm.words() + choice.tail();
        return words + choice.season() + bounds.words();
    }

    @Override
    public Optional<Instant> next(Instant after, ZoneId zone) {
        Optional<Instant> found = ofRules(after, zone);
        return bounds.count().isPresent() ? found.filter(at -> !at.isAfter(end(zone))) : found;
    }

    private Optional<Instant> ofRules(Instant after, ZoneId zone) {
        Optional<Instant> own = rules.get(0).next(after, zone);
        if (rules.size() == 1) {
            return own;
        }
        Optional<Instant> early = rules.get(1).next(after, zone);
        return own.isEmpty() || early.isPresent() && early.get().isBefore(own.get()) ? early : own;
    }

    @Override
    public int[] secondsOn(long day, ZoneId zone) {
        return rules.get(0).days().holds(day) ? seconds.clone() : new int[0];
    }

    /** No time of the day itself is earlier than the start of its part, and none after midnight is as late. */
    @Override
    public LocalDate dayOf(Instant at, ZoneId zone) {
        var local = at.atZone(zone).toLocalDateTime();
        boolean early = rules.size() > 1 && local.toLocalTime().toSecondOfDay() < seconds[0];
        return local.toLocalDate().minusDays(early ? 1 : 0);
    }

    @Override
    public boolean needsStart() {
        return begins;
    }

    @Override
    public Timetable startingAt(Instant start, ZoneId zone) {
        if (!begins) {
            return this;
        }
        long from = start.atZone(zone).toLocalDate().toEpochDay();
        // the first such day, so that the period it lies in is the first that counts
        long first = choice instanceof DayChoice.InPeriod in
                ? new DayChoice.InPeriod(in.period(), 1, in.months(), in.items())
                        .days(from, DaySet.MONDAY_TO_FRIDAY)
                        .next(from)
                : from;
        LocalDate day = LocalDate.ofEpochDay(first == DaySet.NEVER ? from : first);
        return new Phrase(rhythm, choice, new Bounds(Optional.of(day), bounds.until(), bounds.count()));
    }

    private Instant end(ZoneId zone) {
        End known = end;
        if (known == null || !known.zone.equals(zone)) {
            Instant at =
                    bounds.from().orElseThrow().atStartOfDay(zone).toInstant().minusSeconds(1);
            for (int i = 0; i < bounds.count().orElseThrow(); i++) {
                Optional<Instant> next = ofRules(at, zone);
                if (next.isEmpty()) {
                    break;
                }
                at = next.get();
            }
            known = new End(zone, at);
            end = known;
        }
        return known.at;
    }

    @Override
    public boolean equals(Object other) {
        return other instanceof Phrase phrase
                && rhythm.equals(phrase.rhythm)
                && choice.equals(phrase.choice)
                && bounds.equals(phrase.bounds);
    }

    @Override
    public int hashCode() {
        return phrase().hashCode();
    }

    @Override
    public String toString() {
        return phrase();
    }
}
