package org.gantrel.service.job;

import java.io.Serializable;

/**
 * A job as others know it; what it does stands in its revisions. A value, as of when it was asked for.
 *
 * @param team the name of the team that owns it
 * @param revision the latest
 * @param isRetired a retired job starts no more; its runs stay known
 */
public record JobEntry(
        long id, String name, long teamId, String team, String kind, String about, int revision, boolean isRetired)
        implements Serializable {}
