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
        Deed deed = event.type().startsWith(CREDENTIAL) ? Deed.SEE_CREDENTIALS : Deed.SEE_RUNS;
        return caller.may(deed, event.team());
    }
}
