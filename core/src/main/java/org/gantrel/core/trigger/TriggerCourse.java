package org.gantrel.core.trigger;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.schedule.DayFilter;

/**
 * Decides what comes of an event that a trigger waits for: a start now, a start later, one start together with others, or
 * none.
 */
public final class TriggerCourse {

    /** What comes of an event. */
    public sealed interface Verdict {}

    /** A start of its own. @param why why not at once; empty where it is */
    public record Start(Instant at, String why) implements Verdict {}

    /** It belongs to a start that is already planned. */
    public record Gathered(long run) implements Verdict {}

    /** Nothing. */
    public record Dropped(String why) implements Verdict {}

    /**
     * A start that the trigger made.
     *
     * @param planned when it was or is to begin
     * @param waits whether it has not begun yet, so that more can come into it
     */
    public record Made(long run, Instant planned, boolean waits) {}

    private TriggerCourse() {}

    /**
     * What comes of an event.
     *
     * @param at when the event was
     * @param made the starts that it made, of the span before the event and all that are still to come
     * @param days the days of the calendar of its hours
     */
    public static Verdict decide(Trigger trigger, Instant at, List<Made> made, DayFilter days) {
        Instant wanted = at.plus(trigger.delay());
        Optional<Instant> open = open(trigger, wanted, days);
        boolean shut = open.filter(wanted::equals).isEmpty();
        if (open.isEmpty() || shut && !keeps(trigger)) {
            return new Dropped("it is outside of its hours, "
                    + trigger.hours().orElseThrow().words());
        }
        String why = shut ? "kept until " + open.get() + ", when its hours begin" : "";
        return trigger.limit()
                .map(limit -> limited(trigger, limit, open.get(), made, days, why))
                .orElseGet(() -> new Start(open.get(), why));
    }

    private static Verdict limited(
            Trigger trigger, Limit limit, Instant wanted, List<Made> made, DayFilter days, String why) {
        List<Instant> planned = made.stream().map(Made::planned).sorted().toList();
        if (fits(limit, planned, wanted)) {
            return new Start(wanted, why);
        }
        if (!limit.gathers()) {
            return new Dropped(limit.words());
        }
        Optional<Made> waiting = made.stream()
                .filter(each -> each.waits() && each.planned().isAfter(wanted))
                .findFirst();
        if (waiting.isPresent()) {
            return new Gathered(waiting.get().run());
        }
        for (Instant each : planned) {
            Optional<Instant> next = open(trigger, each.plus(limit.in()), days);
            if (next.isPresent() && next.get().isAfter(wanted) && fits(limit, planned, next.get())) {
                return new Start(next.get(), "gathered until " + next.get() + ": " + limit.words());
            }
        }
        return new Dropped(limit.words() + "; no time comes at which it may start");
    }

    /** Whether one more start leaves no span of the limit's length with more than it allows. */
    private static boolean fits(Limit limit, List<Instant> planned, Instant at) {
        long around = planned.stream()
                .filter(each -> each.isAfter(at.minus(limit.in())) && !each.isAfter(at))
                .count();
        return around < limit.starts();
    }

    private static boolean keeps(Trigger trigger) {
        return trigger.hours().map(OpenHours::keeps).orElse(true);
    }

    private static Optional<Instant> open(Trigger trigger, Instant at, DayFilter days) {
        return trigger.hours().map(hours -> hours.next(at, days)).orElse(Optional.of(at));
    }
}
