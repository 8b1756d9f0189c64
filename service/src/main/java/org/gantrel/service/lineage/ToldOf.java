package org.gantrel.service.lineage;

import java.time.Instant;
import java.util.Collection;
import java.util.List;

/** The messages that events caused; known to whoever sends messages. */
public interface ToldOf {

    /** A message. @param to whom it went to, and @param by which way */
    record Message(long id, long event, Instant at, String to, String by, String subject, String state) {}

    /** The messages about some events of runs, the oldest first. */
    List<Message> of(Collection<Long> events);
}
