package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.ZoneId;
import java.time.zone.ZoneOffsetTransition;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.text.Words;
import org.gantrel.core.when.Timetable;

/** What a person should know of a schedule before it is saved. */
public final class Cautions {

    private static final int LOOKED_AT = 60;
    private static final int TRANSITIONS = 2;

    private Cautions() {}

    /**
     * What is odd about one schedule.
     *
     * @param usual how long the job usually takes
     */
    public static List<String> of(Plan plan, Instant now, Optional<Duration> usual) {
        var cautions = new ArrayList<String>();
        List<Plan.Occurrence> coming = plan.nextStarts(now, LOOKED_AT);
        if (coming.isEmpty()) {
            boolean ever = plan.nextStart(Instant.EPOCH).isPresent();
            cautions.add(ever ? "it never comes round again" : "it never comes");
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

    /** The first instant at which two schedules of a job both start. */
    public static Optional<Instant> clash(Plan one, Plan other, Instant now) {
        var instants = new HashSet<Instant>();
        one.nextStarts(now, LOOKED_AT).forEach(start -> instants.add(start.at()));
        return other.nextStarts(now, LOOKED_AT).stream()
                .map(Plan.Occurrence::at)
                .filter(instants::contains)
                .findFirst();
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
