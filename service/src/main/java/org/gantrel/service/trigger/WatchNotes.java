package org.gantrel.service.trigger;

import java.time.Instant;
import java.util.Optional;

/** What is known of the watches of triggers: whether they can look, and when they did. */
public interface WatchNotes {

    /** @param trouble why it cannot look; empty where it can */
    record Note(String trouble, Optional<Instant> lookedAt) {}

    /** What is known of the watch of a trigger; nothing where it has none or has not looked yet. */
    Optional<Note> of(long job, String trigger);
}
