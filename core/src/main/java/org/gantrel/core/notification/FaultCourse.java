package org.gantrel.core.notification;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.notification.NotificationRule.Escalation;

/**
 * What is told of a fault and when: the first bad end that a rule tells of, then nothing for more of the same; reminders and
 * further people while nobody sees to it; and that it works again, to those who were told.
 */
public final class FaultCourse {

    private FaultCourse() {}

    /**
     * How far a rule has told of a fault.
     *
     * @param first when it told first
     * @param last when it told last
     * @param steps how many of its further steps were taken
     */
    public record Told(Instant first, Instant last, int steps) {}

    /**
     * A fault as it is.
     *
     * @param count how many bad ends it has seen in a row
     * @param seenTo whether somebody sees to it
     * @param told by the name of the rule
     */
    public record Fault(int count, boolean seenTo, boolean closed, Map<String, Told> told) {
        public Fault {
            told = Map.copyOf(told);
        }
    }

    /** Why something is told. */
    public enum Why {
        FIRST,
        REMINDER,
        FURTHER,
        RECOVERED
    }

    /**
     * Something that is to be told now.
     *
     * @param to whom; for a recovery those who were told before, whoever that was
     * @param step which of the rule's further steps it is, from 1; 0 for none
     */
    public record Tell(NotificationRule rule, Why why, List<Receiver> to, int step) {}

    /** What is told upon a bad end that the fault has taken in. @param rules those that tell of such an end */
    public static List<Tell> atBadEnd(Fault fault, List<NotificationRule> rules) {
        return rules.stream()
                .filter(rule -> !fault.told().containsKey(rule.name()) && fault.count() >= rule.after())
                .map(rule -> new Tell(rule, Why.FIRST, rule.to(), 0))
                .toList();
    }

    /** What is told when it works again: each rule that has told of the fault says so. */
    public static List<Tell> atGoodEnd(Fault fault, List<NotificationRule> rules) {
        return rules.stream()
                .filter(rule -> fault.told().containsKey(rule.name()))
                .map(rule -> new Tell(rule, Why.RECOVERED, List.of(), 0))
                .toList();
    }

    /** What is due by a moment while nobody sees to it. What was missed meanwhile is told once. */
    public static List<Tell> due(Fault fault, List<NotificationRule> rules, Instant now) {
        var due = new ArrayList<Tell>();
        if (fault.closed() || fault.seenTo()) {
            return due;
        }
        for (NotificationRule rule : rules) {
            Told told = fault.told().get(rule.name());
            if (told == null) {
                continue;
            }
            boolean further = false;
            for (int i = told.steps(); i < rule.then().size(); i++) {
                Escalation step = rule.then().get(i);
                if (!now.isBefore(told.first().plus(step.after()))) {
                    due.add(new Tell(rule, Why.FURTHER, step.to(), i + 1));
                    further = true;
                }
            }
            boolean again = rule.remind()
                    .filter(every -> !now.isBefore(told.last().plus(every)))
                    .isPresent();
            if (again && !further) {
                due.add(new Tell(rule, Why.REMINDER, reached(rule, told.steps()), 0));
            }
        }
        return due;
    }

    /** All whom a rule has told by now. */
    private static List<Receiver> reached(NotificationRule rule, int steps) {
        var all = new ArrayList<>(rule.to());
        rule.then().stream().limit(steps).forEach(step -> all.addAll(step.to()));
        return all.stream().distinct().toList();
    }

    /** When something is due next; nothing where nothing will be. */
    public static Optional<Instant> next(Fault fault, List<NotificationRule> rules) {
        if (fault.closed() || fault.seenTo()) {
            return Optional.empty();
        }
        var times = new ArrayList<Instant>();
        for (NotificationRule rule : rules) {
            Told told = fault.told().get(rule.name());
            if (told != null) {
                rule.remind().ifPresent(every -> times.add(told.last().plus(every)));
                rule.then().stream()
                        .skip(told.steps())
                        .forEach(step -> times.add(told.first().plus(step.after())));
            }
        }
        return times.stream().min(Comparator.naturalOrder());
    }

    /** How far a rule is when it has told. */
    public static Told after(Optional<Told> before, Tell tell, Instant now) {
        return new Told(
                before.map(Told::first).orElse(now),
                now,
                Math.max(before.map(Told::steps).orElse(0), tell.step()));
    }

    /**
     * The same by a clock that was put back: what was told later than it says now was told now, so that reminders and
     * further steps are as long away as they ever are, and no longer. To say so twice changes nothing.
     */
    public static Told putBack(Told told, Instant now) {
        return new Told(
                told.first().isAfter(now) ? now : told.first(),
                told.last().isAfter(now) ? now : told.last(),
                told.steps());
    }

    /** The longest that a reminder or a further step can be away. */
    public static final Duration LONGEST = Duration.ofDays(30);
}
