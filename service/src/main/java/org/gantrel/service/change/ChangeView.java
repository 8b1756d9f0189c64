package org.gantrel.service.change;

import java.time.Instant;

/**
 * One line of the audit record.
 *
 * @param deed what was done, such as {@code created} or {@code switched off}
 * @param kind what it was done to: job, schedule, run, team, member, person, token
 * @param team the team it concerns; empty where it concerns the whole service
 */
public record ChangeView(
        long id, Instant at, String person, String deed, String kind, String name, String team, String detail) {}
