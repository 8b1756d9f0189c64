package org.gantrel.service.durable;

import java.util.concurrent.CompletableFuture;

/**
 * The end of a database that has closed itself, as H2 does when a write fails. What was committed is kept; what the parts of
 * the service have in memory may be ahead of it. So the whole service begins anew on what is on the disk.
 */
public final class Collapse {

    private final CompletableFuture<String> reason = new CompletableFuture<>();

    /** Says that the database has closed itself, and why. Only the first word counts. */
    public void say(String why) {
        reason.complete(why);
    }

    /** Comes back with the reason when it has happened. */
    public String await() {
        return reason.join();
    }
}
