package org.gantrel.core.when;

import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;

/** A rule in our plain English: times of the day on chosen days, for as long as it holds. */
final class Phrase implements Timetable {

    private final Rhythm rhythm;
    private final DayChoice choice;
    private final Bounds bounds;
    private final LocalRule rule;
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
        long from = bounds.from().map(day -> day.toEpochDay()).orElse(0L);
        this.rule = new LocalRule(choice.days(from, working), rhythm.times());
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
        if (bounds == Bounds.NONE) {
            return rule.next(after, zone);
        }
        Instant begin = bounds.from()
                .map(day -> day.atStartOfDay(zone).toInstant().minusSeconds(1))
                .filter(start -> start.isAfter(after))
                .orElse(after);
        Optional<Instant> found = rule.next(begin, zone);
        if (bounds.until().isPresent()) {
            Instant over = bounds.until().get().plusDays(1).atStartOfDay(zone).toInstant();
            found = found.filter(at -> at.isBefore(over));
        }
        return bounds.count().isPresent() ? found.filter(at -> !at.isAfter(end(zone))) : found;
    }

    private Instant end(ZoneId zone) {
        End known = end;
        if (known == null || !known.zone.equals(zone)) {
            Instant at =
                    bounds.from().orElseThrow().atStartOfDay(zone).toInstant().minusSeconds(1);
            for (int i = 0; i < bounds.count().orElseThrow(); i++) {
                Optional<Instant> next = rule.next(at, zone);
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
