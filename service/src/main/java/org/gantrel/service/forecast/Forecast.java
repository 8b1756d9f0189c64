package org.gantrel.service.forecast;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import org.gantrel.core.run.Crowds.Crowd;

/**
 * What will run when, as far as schedules tell, and when it will probably end.
 *
 * @param cut whether there is more than could be shown, after the last of the starts
 * @param playedUntil up to when it was worked out who waits for whom; missing where that is all of the span. Later starts
 *     are given as if nothing were in their way
 * @param lanes what the lanes will hold, as far as can be played
 * @param supposed what was supposed to be otherwise than it is
 * @param crowded when more runs are expected at once than the service has places for
 */
public record Forecast(
        Instant from,
        Instant until,
        boolean cut,
        @JsonInclude(JsonInclude.Include.NON_NULL) Instant playedUntil,
        List<ComingStart> starts,
        List<Crowd> crowded,
        List<LaneAhead> lanes,
        List<String> supposed) {

    /**
     * What a lane will hold.
     *
     * @param shut why nothing begins in it; missing where it is open
     * @param crowded when runs will wait for it
     * @param points how many of its places are taken from a moment on
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record LaneAhead(String lane, int width, String shut, List<Point> points, List<Crowded> crowded) {}

    /** From a moment on. */
    public record Point(Instant at, int taken) {}

    /** A time in which runs wait for a lane. @param jobs those that wait */
    public record Crowded(Instant from, Instant until, List<String> jobs) {}

    /**
     * A start that is to come.
     *
     * @param begins when it will probably begin; later than its time where it waits for something
     * @param ends when it will probably have ended; missing where the job has not run yet
     * @param waits how long it will probably wait
     * @param waitsFor for what; for what is skipped, what it would have to wait for
     * @param stuck what keeps it, or a step of it, from beginning as things are; a sentence
     * @param skipped whether an earlier run, a hold or the end of its window will probably keep it from starting at all
     * @param deadline when it is to have ended
     * @param late by how much it will probably miss that
     */
    @JsonInclude(JsonInclude.Include.NON_NULL)
    public record ComingStart(
            Instant at,
            Instant begins,
            Instant ends,
            Duration usual,
            Duration waits,
            String waitsFor,
            String stuck,
            Boolean skipped,
            Instant deadline,
            Duration late,
            String job,
            String team,
            String schedule,
            String zone) {}
}
