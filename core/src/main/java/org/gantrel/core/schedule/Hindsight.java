package org.gantrel.core.schedule;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Optional;
import org.gantrel.core.text.Words;

/**
 * Why a schedule started its job at a moment, or did not: told from what was written down of the moment and from how the
 * schedule stood then, which may not be how it stands now.
 *
 * @param now when it is asked
 * @param zone in which times are told
 */
public record Hindsight(Instant now, ZoneId zone) {

    private static final DateTimeFormatter LOCAL = DateTimeFormatter.ofPattern("EEE d MMM HH:mm:ss", Locale.ENGLISH);
    private static final DateTimeFormatter FAR = DateTimeFormatter.ofPattern("EEE d MMM uuuu HH:mm:ss", Locale.ENGLISH);

    /** What became of the moment, or will. */
    public enum Outcome {
        STARTED,
        MISSED,
        SKIPPED,
        COMING,
        /** The schedule named the moment, and the service has not come to it yet. */
        DUE,
        NO_OCCURRENCE;

        /** As the API writes it. */
        public String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', '-');
        }
    }

    /** @param sentence the answer in words */
    public record Answer(Outcome outcome, String sentence) {}

    /**
     * What was written down of the moment.
     *
     * @param run how its run stands, such as {@code run 1001, which failed at 02:40}; nothing where it has none
     */
    public record Written(Outcome outcome, String reason, Optional<String> run) {}

    /**
     * What a schedule says of when.
     *
     * @param when as it was written
     * @param all everything that it says of when, to see whether another says the same
     */
    public record Rule(Plan plan, String when, Duration window, String all) {}

    /**
     * What its job was defined as.
     *
     * @param rule what it says of the schedule; nothing where it has no such schedule
     */
    public record Revision(int number, Instant since, String by, Optional<Rule> rule) {}

    /** Who switched the schedule off, and when; both are empty where it has been off from its beginning. */
    public record Off(String by, Optional<Instant> since) {}

    /**
     * How the schedule stood at the moment, and stands now.
     *
     * @param then the revision that held then; nothing before the first one, and for a moment that is to come
     * @param first the first revision, or the oldest one that is known
     * @param current the latest
     * @param off whether it was off then; for a moment that is to come, whether it is now
     * @param due the first moment that is not accounted for yet
     * @param keptSince what ended before that is no longer kept; nothing where all is
     * @param hold what a hold will make of a moment that is to come
     * @param calendarChanged a calendar of the schedule that has changed since, and when
     */
    public record Standing(
            Optional<Revision> then,
            Revision first,
            Revision current,
            Optional<Off> off,
            Optional<Instant> due,
            Optional<Instant> keptSince,
            Optional<String> hold,
            Optional<String> calendarChanged) {}

    /** Of a moment that was written down. */
    public Answer written(Instant at, Written written) {
        String why = written.reason().isEmpty() ? "" : ": " + written.reason();
        if (at.isAfter(now) && written.outcome() == Outcome.STARTED) {
            return new Answer(
                    Outcome.COMING,
                    "it will start then"
                            + written.run().map(run -> ", as " + run).orElse(""));
        }
        String run = written.run()
                .map(words -> written.outcome() == Outcome.STARTED ? " as " + words : " (" + words + ")")
                .orElse("");
        return new Answer(
                written.outcome(),
                "the occurrence at " + told(at) + " was " + written.outcome().word()
                        + (written.outcome() == Outcome.STARTED ? run + why : why + run));
    }

    /** Of one of which nothing was written down. */
    public Answer unwritten(Instant at, Standing standing) {
        return at.isAfter(now) ? ahead(at, standing) : past(at, standing);
    }

    private Answer ahead(Instant at, Standing standing) {
        Rule rule = standing.current().rule().orElseThrow();
        Optional<Plan.Occurrence> one = occurrence(rule.plan(), at);
        if (one.isEmpty()) {
            return none(notNamed(rule, at, "does"));
        }
        if (standing.off().isPresent()) {
            return new Answer(
                    Outcome.COMING, "it would start then, but the schedule is switched off" + by(standing.off()));
        }
        return new Answer(
                Outcome.COMING,
                one.get()
                        .skipped()
                        .map(why -> "it comes due then and will be skipped: " + why)
                        .or(standing::hold)
                        .orElseGet(() -> "it will start then" + moved(one.get())));
    }

    private Answer past(Instant at, Standing standing) {
        if (standing.then().isEmpty()) {
            return none("there was no such job yet: it was made on "
                    + told(standing.first().since()) + " by " + standing.first().by());
        }
        Revision then = standing.then().get();
        if (then.rule().isEmpty()) {
            return none("the job had no such schedule then: its revision " + then.number()
                    + ", which held, does not have it");
        }
        Rule rule = then.rule().get();
        String since = changedSince(then, standing);
        String changed =
                standing.calendarChanged().map(calendar -> "; " + calendar).orElse("");
        Optional<Plan.Occurrence> one = occurrence(rule.plan(), at);
        if (one.isEmpty()) {
            return none(notNamed(rule, at, since.isEmpty() ? "does" : "did") + changed + since);
        }
        if (standing.off().isPresent()) {
            return none("the schedule named that moment" + moved(one.get()) + ", and was switched off then"
                    + by(standing.off()) + changed + since);
        }
        if (standing.due().filter(due -> !due.isAfter(at)).isPresent()) {
            return new Answer(Outcome.DUE, "it is due, and is accounted for in a moment" + moved(one.get()));
        }
        if (standing.keptSince().filter(at::isBefore).isPresent()) {
            return none("the schedule named that moment" + moved(one.get())
                    + "; what became of it is no longer kept: of this job that is kept which ended after "
                    + told(standing.keptSince().get()) + changed + since);
        }
        return none("the schedule names that moment" + moved(one.get()) + ", and nothing was written down of it"
                + changed + since);
    }

    private String changedSince(Revision then, Standing standing) {
        Revision current = standing.current();
        return current.rule()
                .filter(rule -> !rule.all().equals(then.rule().orElseThrow().all()))
                .map(rule -> "; that was by revision " + then.number() + " of the job, by revision " + current.number()
                        + " (" + told(current.since()) + ", " + current.by() + ") it is '" + rule.when() + "'"
                        + (rule.plan().zone().equals(zone)
                                ? ""
                                : " in " + rule.plan().zone()))
                .orElse("");
    }

    private String by(Optional<Off> off) {
        return off.flatMap(Off::since)
                .map(since -> " by " + off.get().by() + " on " + told(since))
                .orElse(", from its beginning");
    }

    private static String moved(Plan.Occurrence one) {
        return one.movedFrom().map(day -> ", moved from " + day).orElse("");
    }

    private static Answer none(String sentence) {
        return new Answer(Outcome.NO_OCCURRENCE, sentence);
    }

    private static Optional<Plan.Occurrence> occurrence(Plan plan, Instant at) {
        return plan.next(at.minusNanos(1)).filter(one -> one.at().equals(at));
    }

    private String notNamed(Rule rule, Instant at, String does) {
        Plan plan = rule.plan();
        ZonedDateTime local = at.atZone(plan.zone());
        String when = "'" + rule.when() + "'";
        boolean named = plan.timetable()
                .next(at.minusNanos(1), plan.zone())
                .filter(at::equals)
                .isPresent();
        if (!named) {
            return plan.place().isZero()
                    ? when + " " + does + " not name " + told(at)
                    : when + " with its window of " + Words.duration(rule.window()) + " " + does + " not start at "
                            + told(at);
        }
        if (plan.from().filter(local.toLocalDate()::isBefore).isPresent()) {
            return "the schedule holds from " + plan.from().get() + " on";
        }
        if (plan.until().filter(local.toLocalDate()::isAfter).isPresent()) {
            return "the schedule held until " + plan.until().get();
        }
        String moves = plan.shift().effect();
        return plan.keep()
                .refusal(local.toLocalDateTime())
                .map(why -> why + "; the start " + moves)
                .orElse(when + " " + does + " not start at " + told(at));
    }

    /** A moment as it is told: with its year where that is not clear. */
    public String told(Instant at) {
        boolean far = Duration.between(at, now).abs().compareTo(Duration.ofDays(180)) > 0;
        return (far ? FAR : LOCAL).format(at.atZone(zone)) + " (" + zone + ")";
    }
}
