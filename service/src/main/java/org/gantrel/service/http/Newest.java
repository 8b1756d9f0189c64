package org.gantrel.service.http;

import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.function.Function;
import java.util.function.LongFunction;

/**
 * The newest rows of several teams: those of each come along an index from its end, and are put together here. A question about
 * all of them at once would have everything sorted that they hold.
 */
public final class Newest {

    /** For pages of up to so many. */
    public static final int MOST = 1_001;

    private Newest() {}

    /**
     * Puts together the newest.
     *
     * @param id a row's number, which grows with each new row
     * @param ofTeam the newest of a team, as many as are wanted in all
     */
    public static <T> List<T> of(Collection<Long> teams, Function<T, Long> id, int most, LongFunction<List<T>> ofTeam) {
        return teams.stream()
                .flatMap(team -> ofTeam.apply(team).stream())
                .sorted(Comparator.comparing(id).reversed())
                .limit(most)
                .toList();
    }
}
