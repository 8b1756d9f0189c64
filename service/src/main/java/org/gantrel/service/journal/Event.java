package org.gantrel.service.journal;

import java.time.Instant;
import java.util.Map;

/**
 * Something that happened, written into the journal in the transaction that made it true.
 *
 * @param position its place in the journal; later events have higher ones
 * @param type such as {@code gantrel.run.ended}
 * @param run the run that it tells of; null where it tells of none
 * @param team whose members may know of it; empty for administrators alone
 * @param about what it says, by name
 */
public record Event(long position, String type, Instant at, Long run, String team, Map<String, Object> about) {}
