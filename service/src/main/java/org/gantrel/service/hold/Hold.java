package org.gantrel.service.hold;

import java.time.Instant;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import org.gantrel.core.run.Wait;

/**
 * Maintenance: work that is not to start for a while.
 *
 * @param name of the job, team or lane; empty for the whole service
 * @param team the id of the team that it concerns; nothing for the whole service
 * @param until when it ends by itself; nothing where somebody has to end it
 * @param skips whether what comes due is skipped; it is kept and started afterwards otherwise
 * @param stops whether what is under way is stopped when it begins
 * @param stopped whether that is done
 */
public record Hold(
        long id,
        Scope scope,
        String name,
        Optional<Long> team,
        Instant from,
        Optional<Instant> until,
        boolean skips,
        boolean stops,
        boolean stopped,
        String why,
        String person,
        Optional<Instant> endedAt,
        String endedBy) {

    /** One that somebody wants to lay: what comes due is kept, and what is under way finishes. */
    public static Hold wanted(
            Scope scope, String name, Instant from, Optional<Instant> until, String why, String person) {
        return new Hold(
                0, scope, name, Optional.empty(), from, until, false, false, false, why, person, Optional.empty(), "");
    }

    /** The same, where what comes due is skipped. */
    public Hold skipping() {
        return new Hold(id, scope, name, team, from, until, true, stops, stopped, why, person, endedAt, endedBy);
    }

    /** The same, where what is under way is stopped. */
    public Hold stopping() {
        return new Hold(id, scope, name, team, from, until, skips, true, stopped, why, person, endedAt, endedBy);
    }

    /** What a hold is laid on. */
    public enum Scope {
        JOB,
        TEAM,
        LANE,
        SERVICE;

        public String word() {
            return name().toLowerCase(Locale.ROOT);
        }

        public static Optional<Scope> of(String word) {
            return Arrays.stream(values())
                    .filter(each -> each.word().equals(word))
                    .findFirst();
        }

        public static List<String> words() {
            return Arrays.stream(values()).map(Scope::word).toList();
        }
    }

    /** Whether it holds at a moment. */
    public boolean isOn(Instant now) {
        return !isOver(now) && !now.isBefore(from);
    }

    /** Whether somebody has ended it, or its time has. */
    public boolean isOver(Instant now) {
        return endedAt.isPresent() || until.filter(end -> !now.isBefore(end)).isPresent();
    }

    /** Whether it is laid on a job, its team, one of its lanes, or everything. */
    public boolean concerns(String job, long teamId, Collection<String> lanes) {
        return switch (scope) {
            case JOB -> name.equals(job);
            case TEAM -> team.filter(id -> id == teamId).isPresent();
            case LANE -> lanes.contains(name);
            case SERVICE -> true;
        };
    }

    /** What it is laid on, in words. */
    public String subject() {
        return scope == Scope.SERVICE ? "the whole service" : "the " + scope.word() + " " + name;
    }

    /** What a run waits for that it keeps from starting. */
    public Wait asWait() {
        return new Wait(Wait.Kind.HOLD, String.valueOf(id), "the end of a hold of " + words());
    }

    /** Why a run of it does not start, in words. */
    public String words() {
        return subject() + ", held by " + person + (why.isEmpty() ? "" : ": " + why);
    }
}
