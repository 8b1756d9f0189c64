package org.gantrel.core.trigger;

import java.time.Duration;

/**
 * A query whose rows a trigger waits for.
 *
 * @param query the SQL
 * @param key the column that makes a row one and the same
 * @param credential the database
 * @param lookEvery how often it is asked
 */
public record RowWatch(String query, String key, String credential, Duration lookEvery) {}
