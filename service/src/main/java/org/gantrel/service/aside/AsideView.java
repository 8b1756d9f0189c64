package org.gantrel.service.aside;

import com.fasterxml.jackson.annotation.JsonInclude;
import java.time.Instant;

/**
 * Something that could not be dealt with.
 *
 * @param kind what it is: schedule, waiting-run, chain, sweep, end, wish, event or delivery
 * @param reason what went wrong with the last try
 * @param nextTry when it is tried again by itself
 * @param help what would mend it
 */
@JsonInclude(JsonInclude.Include.NON_NULL)
public record AsideView(
        String kind,
        long id,
        String name,
        String team,
        String reason,
        Instant since,
        int tries,
        Instant nextTry,
        String help) {}
