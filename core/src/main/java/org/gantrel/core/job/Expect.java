package org.gantrel.core.job;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import org.gantrel.core.text.Words;
import org.gantrel.core.trigger.FileWatch;

/**
 * What is expected of a job: that it does not come is a thing to be told of, since nothing else would tell.
 *
 * @param goodWithin a good end comes at least so often
 * @param startsWithin a run waits no longer than this after the time that it is planned for
 * @param comingStart one of its schedules has a coming start
 * @param arrivals something comes into a folder at least as often as its {@code silence} says
 */
public record Expect(
        Optional<Duration> goodWithin,
        Optional<Duration> startsWithin,
        boolean comingStart,
        Optional<FileWatch> arrivals) {

    public static final Expect NOTHING = new Expect(Optional.empty(), Optional.empty(), false, Optional.empty());

    /** What each of them is called. */
    public static final String GOOD_WITHIN = "good-within";

    public static final String COMING_START = "coming-start";
    public static final String ARRIVALS = "arrivals";

    public boolean isNothing() {
        return equals(NOTHING);
    }

    /** When a job is silent that has no good end by then. @param last the last good one, or when this was first expected */
    public Optional<Instant> silentAt(Instant last) {
        return goodWithin.map(last::plus);
    }

    /** The same in words, one for each. */
    public List<String> words() {
        var words = new ArrayList<String>();
        goodWithin.ifPresent(span -> words.add("a good end at least every " + Words.duration(span)));
        startsWithin.ifPresent(span -> words.add("a start within " + Words.duration(span) + " of the planned time"));
        if (comingStart) {
            words.add("a coming start");
        }
        arrivals.ifPresent(watch -> words.add("something that comes as " + watch.words() + " at least every "
                + Words.duration(watch.silence().orElse(Duration.ZERO))));
        return words;
    }
}
