package org.gantrel.service.http;

import java.util.function.Supplier;
import org.gantrel.service.refusal.Refusal;

/** The ETag of something that has revisions, and the If-Match that an edit carries (RFC 9110, 8.8.3 and 13.1.1). */
public record EditTag(int revision) {

    @Override
    public String toString() {
        return "\"r" + revision + "\"";
    }

    /**
     * Checks that an edit was made of this revision; {@code *} stands for any.
     *
     * @param what such as "job settle-tickets"
     * @param by who made the latest revision
     * @throws Refusal where the edit says no revision, or an older one
     */
    public void require(String ifMatch, String what, Supplier<String> by) {
        if (ifMatch == null) {
            throw Refusal.revisionNeeded(
                    "an edit carries If-Match with the ETag that the " + what + " had when it was read");
        }
        if (!ifMatch.equals(toString()) && !ifMatch.equals("*")) {
            throw Refusal.changedMeanwhile("the " + what + " was changed meanwhile by " + by.get() + " (revision "
                    + revision + "); read it again and repeat your edit");
        }
    }
}
