package org.gantrel.core.notification;

import java.time.DayOfWeek;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.temporal.ChronoUnit;
import java.time.temporal.TemporalAdjusters;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;

/**
 * Who is on duty when: people take turns of a week each, and others may stand in.
 *
 * @param first the day on which the first of them had their first turn
 * @param from the day of the week and the local time at which duty is handed over
 * @param turns the people in the order of their turns
 * @param covers who stands in for whoever it would be; a later one counts before an earlier one
 */
public record DutyList(
        String name,
        String team,
        String about,
        ZoneId zone,
        LocalDate first,
        Handover from,
        List<String> turns,
        List<Cover> covers)
        implements Telling {

    /** When duty is handed over. */
    public record Handover(DayOfWeek day, LocalTime time) {}

    /**
     * Somebody stands in, from the handover time of a day until that of another.
     *
     * @param until the day after the last night, so that from Friday until Monday is a weekend
     */
    public record Cover(LocalDate from, LocalDate until, String person) {}

    /** A stretch of time that somebody is on duty. */
    public record Watch(Instant from, Instant until, String person, boolean cover) {}

    public DutyList {
        turns = List.copyOf(turns);
        covers = List.copyOf(covers);
    }

    /** The same with others standing in as well. */
    public DutyList with(List<Cover> more) {
        var all = new ArrayList<>(covers);
        all.addAll(more);
        return new DutyList(name, team, about, zone, first, from, turns, all);
    }

    /**
     * Who stands in for whom where two weeks are exchanged.
     *
     * @param one a day of the one week, from its handover on
     * @param other a day of the other
     * @return nothing where the same person has both
     */
    public List<Cover> swap(LocalDate one, LocalDate other) {
        LocalDate first = week(one);
        LocalDate second = week(other);
        Optional<String> ofFirst = at(handover(first));
        Optional<String> ofSecond = at(handover(second));
        return ofFirst.isEmpty() || ofFirst.equals(ofSecond)
                ? List.of()
                : List.of(
                        new Cover(first, first.plusWeeks(1), ofSecond.get()),
                        new Cover(second, second.plusWeeks(1), ofFirst.get()));
    }

    private LocalDate week(LocalDate day) {
        return day.with(TemporalAdjusters.previousOrSame(from.day()));
    }

    /** Who is on duty at a moment; nobody where the list names nobody. */
    public Optional<String> at(Instant moment) {
        for (int i = covers.size() - 1; i >= 0; i--) {
            Cover cover = covers.get(i);
            if (!moment.isBefore(handover(cover.from())) && moment.isBefore(handover(cover.until()))) {
                return Optional.of(cover.person());
            }
        }
        return turns.isEmpty() ? Optional.empty() : Optional.of(turns.get(turn(moment)));
    }

    private int turn(Instant moment) {
        LocalDate begin = first.with(TemporalAdjusters.previousOrSame(from.day()));
        ZonedDateTime local = moment.atZone(zone);
        LocalDate day =
                local.toLocalTime().isBefore(from.time()) ? local.toLocalDate().minusDays(1) : local.toLocalDate();
        long weeks = Math.floorDiv(ChronoUnit.DAYS.between(begin, day), 7L);
        return (int) Math.floorMod(weeks, (long) turns.size());
    }

    private Instant handover(LocalDate day) {
        return day.atTime(from.time()).atZone(zone).toInstant();
    }

    /** Who is on duty from a moment on, each change a line. @param most how many */
    public List<Watch> ahead(Instant moment, int most) {
        var watches = new ArrayList<Watch>();
        Instant at = moment;
        LocalDate day = moment.atZone(zone).toLocalDate();
        Optional<String> person = at(moment);
        // a year at most: a list of one person never changes
        for (int i = 0; i < 366 && watches.size() < most && person.isPresent(); i++) {
            day = day.plusDays(1);
            Instant next = handover(day);
            Optional<String> then = at(next);
            if (!then.equals(person) || i == 365) {
                watches.add(new Watch(at, next, person.get(), isCover(at)));
                at = next;
                person = then;
            }
        }
        return watches;
    }

    private boolean isCover(Instant moment) {
        return covers.stream()
                .anyMatch(
                        cover -> !moment.isBefore(handover(cover.from())) && moment.isBefore(handover(cover.until())));
    }
}
