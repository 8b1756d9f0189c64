package org.gantrel.service.today;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import org.gantrel.service.aside.AsideView;
import org.gantrel.service.expect.Silences;
import org.gantrel.service.forecast.Deadlines;
import org.gantrel.service.run.RunView;

/**
 * How the day goes.
 *
 * @param sentence the day in words
 * @param from where what is told of begins: the last midnight, or twelve hours ago where that is longer ago
 * @param counts runs since then by state, steps of chains not counted
 * @param coming how many starts the schedules have before midnight
 * @param attention what needs somebody
 * @param deadlines those that are late, or will probably be
 * @param holds what is held, or is to be
 * @param holds the first of what holds or is planned to
 * @param moreHolds how many there are besides
 * @param silences what was expected and has not come
 * @param setAside what the service could not deal with
 */
record TodayView(
        String zone,
        Instant from,
        Instant until,
        String sentence,
        Map<String, Long> counts,
        long coming,
        List<Attention> attention,
        List<AsideView> setAside,
        List<Deadlines.Deadline> deadlines,
        List<HeldNow> holds,
        int moreHolds,
        List<Silences.Silence> silences) {

    /** A hold, in words. @param active whether it holds now; it is planned otherwise */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record HeldNow(long id, String words, Instant from, Instant until, boolean active) {}

    /**
     * A job of which what ended last, ended badly.
     *
     * @param inARow how many of its latest runs did
     * @param since when the first of those was planned
     * @param fault the fault that it is part of, where there is one
     * @param also others that ended badly for the same cause: what an outage missed too, the chain that it failed in
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Attention(RunView run, int inARow, Instant since, FaultNow fault, List<RunView> also) {}

    /** A fault that goes on. @param seenBy who sees to it */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record FaultNow(long id, Instant since, String seenBy) {}

    /**
     * The ribbon board of a span of time.
     *
     * @param cut whether there are more runs than it has; it has the latest
     * @param comingUntil from when on starts are missing that are to come, where there are more than it has
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Board(Instant from, Instant until, Instant now, boolean cut, Instant comingUntil, List<Row> rows) {}

    /** A job's line on the board. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Row(String team, String job, String kind, Duration usual, List<Bar> runs, List<Instant> coming) {}

    /** A run on the board. */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    record Bar(
            long number,
            String state,
            Instant at,
            Instant start,
            Instant end,
            String message,
            String actsAs,
            Instant deadline,
            Boolean late) {}
}
