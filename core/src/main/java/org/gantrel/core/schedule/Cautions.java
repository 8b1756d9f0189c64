package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.zone.ZoneOffsetTransition;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.BooleanSupplier;
import org.gantrel.core.text.Words;
import org.gantrel.core.when.Timetable;

/** What a person should know of a schedule before it is saved. */
public final class Cautions {

    private static final int LOOKED_AT = 60;
    private static final int TRANSITIONS = 2;
    private static final int MOST_CLASHES = 20;

    private Cautions() {}

    /**
     * What is odd about one schedule.
     *
     * @param usual how long the job usually takes
     */
    public static List<String> of(Plan plan, Instant now, Optional<Duration> usual) {
        Starts starts = plan.starts(now);
        return of(plan, starts.next(LOOKED_AT), starts.gaveUp(), now, usual);
    }

    private static List<String> of(
            Plan plan, List<Plan.Occurrence> coming, boolean gaveUp, Instant now, Optional<Duration> usual) {
        var cautions = new ArrayList<String>();
        if (gaveUp) {
            cautions.add("the rule is too dense for its calendar: " + (coming.isEmpty() ? "no" : "few")
                    + " starts were found among a great many times that it does not let start; a rule of the times that"
                    + " are meant would be right");
        } else if (coming.isEmpty()) {
            boolean ever = plan.nextStart(Instant.EPOCH).isPresent();
            cautions.add(ever ? "it never comes round again" : "it never comes");
        }
        if (coming.isEmpty()) {
            return cautions;
        }
        cautions.addAll(plan.timetable().cautions());
        boolean leapDaysOnly = coming.stream()
                .map(one -> one.at().atZone(plan.zone()))
                .allMatch(at -> at.getMonthValue() == 2 && at.getDayOfMonth() == 29);
        if (leapDaysOnly) {
            cautions.add("29 February comes in leap years only, next on "
                    + coming.get(0).at().atZone(plan.zone()).toLocalDate());
        }
        usual.flatMap(length -> tooOften(coming, length)).ifPresent(cautions::add);
        cautions.addAll(summerTime(plan.timetable(), plan.zone(), now));
        return cautions;
    }

    /** One schedule of several of a job. */
    public record Named(String name, Plan plan) {}

    /**
     * What is odd about the schedules of a job, each and together.
     *
     * @param late whether no more time is left for it; what was not looked at by then is said
     */
    public static List<String> ofAll(
            List<Named> schedules, Instant now, Optional<Duration> usual, BooleanSupplier late) {
        var cautions = new ArrayList<String>();
        var clashes = new ArrayList<String>();
        var starts = new LinkedHashMap<String, Set<Instant>>();
        for (Named each : schedules) {
            if (late.getAsBoolean()) {
                cautions.add("schedule " + each.name() + " and "
                        + Words.count(schedules.size() - starts.size() - 1, "other")
                        + " were not looked at for oddities: that takes too long");
                break;
            }
            Starts found = each.plan().starts(now);
            List<Plan.Occurrence> coming = found.next(LOOKED_AT);
            of(each.plan(), coming, found.gaveUp(), now, usual)
                    .forEach(caution -> cautions.add("schedule " + each.name() + ": " + caution));
            var own = new LinkedHashSet<Instant>();
            coming.forEach(start -> own.add(start.at()));
            starts.forEach((name, others) -> own.stream()
                    .filter(others::contains)
                    .findFirst()
                    .ifPresent(
                            at -> clashes.add("schedules " + name + " and " + each.name() + " both start at " + at)));
            starts.put(each.name(), own);
        }
        int shown = Math.min(clashes.size(), MOST_CLASHES);
        cautions.addAll(clashes.subList(0, shown));
        if (clashes.size() > shown) {
            cautions.add(Words.count(clashes.size() - shown, "more pair") + " of its schedules start together");
        }
        return cautions;
    }

    /** What the clocks of a zone do on the day of an instant, where they do anything. */
    public static Optional<String> clockChange(Instant at, ZoneId zone) {
        LocalDate day = at.atZone(zone).toLocalDate();
        return Optional.ofNullable(zone.getRules()
                        .nextTransition(day.atStartOfDay(zone).toInstant().minusSeconds(1)))
                .filter(change -> change.getInstant().atZone(zone).toLocalDate().equals(day))
                .map(change -> "clocks go " + (change.isGap() ? "forward" : "back") + " at "
                        + change.getDateTimeBefore().toLocalTime());
    }

    private static Optional<String> tooOften(List<Plan.Occurrence> coming, Duration usual) {
        for (int i = 1; i < coming.size(); i++) {
            Duration gap =
                    Duration.between(coming.get(i - 1).at(), coming.get(i).at());
            if (gap.compareTo(usual) < 0) {
                return Optional.of("it starts again after " + Words.duration(gap) + ", and the job usually takes "
                        + Words.duration(usual));
            }
        }
        return Optional.empty();
    }

    /** Times that the next changes to and from summer time leave out or bring twice. */
    private static List<String> summerTime(Timetable timetable, ZoneId zone, Instant now) {
        var cautions = new ArrayList<String>();
        ZoneOffsetTransition transition = zone.getRules().nextTransition(now);
        for (int i = 0; i < TRANSITIONS && transition != null; i++) {
            caution(timetable, zone, transition).ifPresent(cautions::add);
            transition = zone.getRules().nextTransition(transition.getInstant());
        }
        return cautions;
    }

    private static Optional<String> caution(Timetable timetable, ZoneId zone, ZoneOffsetTransition transition) {
        boolean gap = transition.isGap();
        LocalDateTime first = gap ? transition.getDateTimeBefore() : transition.getDateTimeAfter();
        LocalDateTime last = gap ? transition.getDateTimeAfter() : transition.getDateTimeBefore();
        // read by a clock that does not change, the rule shows what it wants in that hour
        ZoneId steady = transition.getOffsetBefore();
        Optional<LocalDateTime> wanted = timetable
                .next(first.atZone(steady).toInstant().minusSeconds(1), steady)
                .map(at -> at.atZone(steady).toLocalDateTime())
                .filter(at -> at.isBefore(last));
        if (wanted.isEmpty() || timetable.ownZone().isPresent()) {
            return Optional.empty();
        }
        String time = wanted.get().toLocalDate() + " " + wanted.get().toLocalTime();
        if (gap
                && timetable
                        .next(last.atZone(steady).toInstant().minusSeconds(1), steady)
                        .filter(wanted.get()
                                .plus(transition.getDuration())
                                .atZone(steady)
                                .toInstant()::equals)
                        .isPresent()) {
            return Optional.empty();
        }
        if (gap) {
            return Optional.of(time + " does not exist in " + zone + ": clocks go forward; it starts at "
                    + wanted.get().atZone(zone).toLocalTime());
        }
        Instant once = wanted.get().atZone(zone).withEarlierOffsetAtOverlap().toInstant();
        Instant again = wanted.get().atZone(zone).withLaterOffsetAtOverlap().toInstant();
        boolean both = timetable
                        .next(again.minusSeconds(1), zone)
                        .filter(again::equals)
                        .isPresent()
                && !once.equals(again);
        return both
                ? Optional.empty()
                : Optional.of(time + " comes twice in " + zone + ": clocks go back; it starts the first time");
    }
}
