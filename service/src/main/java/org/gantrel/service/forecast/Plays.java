package org.gantrel.service.forecast;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import org.gantrel.service.cache.Recent;
import org.gantrel.service.journal.Journal;
import org.springframework.stereotype.Component;

/** What was played last, for all who look ahead in the same moments: to play a busy night takes its time. */
@Component
class Plays {

    /** No farther than this is played: beyond it nobody knows what else will come. */
    static final Duration FARTHEST = Duration.ofDays(3);

    /** Those who look ahead for as long, one a little after the other, are to ask the same. */
    private static final long STEP_SECONDS = Duration.ofMinutes(15).toSeconds();

    private static final int AT_ONCE = 2;

    private record Question(Instant end, Supposed supposed) {}

    private final Ahead ahead;
    private final Recent<Question, Ahead.Played> recent;

    Plays(Ahead ahead, Journal journal, Clock clock) {
        this.ahead = ahead;
        this.recent = new Recent<>(journal::complete, clock, AT_ONCE);
    }

    /** What is to come from now until a time, or a little longer. Not to be called within a transaction. */
    Ahead.Played until(Instant now, Instant until, Supposed supposed) {
        Instant end = until.isAfter(now.plus(FARTHEST)) ? now.plus(FARTHEST) : until;
        Instant step = Instant.ofEpochSecond(Math.floorDiv(end.getEpochSecond(), STEP_SECONDS) * STEP_SECONDS)
                .plusSeconds(STEP_SECONDS);
        return recent.of(new Question(step, supposed), () -> ahead.play(now, step, supposed));
    }
}
