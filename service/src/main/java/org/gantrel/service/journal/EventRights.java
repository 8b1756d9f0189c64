package org.gantrel.service.journal;

import org.gantrel.core.access.Deed;
import org.gantrel.service.team.Caller;

/** Who may know of an event: who may see what it tells of. */
public final class EventRights {

    /** What events of credentials begin with. */
    static final String CREDENTIAL = "gantrel.credential.";

    private EventRights() {}

    /** Whether a caller may know of an event. */
    public static boolean sees(Caller caller, Event event) {
        if (event.team().isEmpty()) {
            return caller.administrator();
        }
        return caller.may(of(event.type()), event.team());
    }

    /** What has to be allowed in a team to whoever knows of its events of a type. */
    public static Deed of(String type) {
        return type.startsWith(CREDENTIAL) ? Deed.SEE_CREDENTIALS : Deed.SEE_RUNS;
    }
}
