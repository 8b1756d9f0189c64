package org.gantrel.service.team;

import java.util.Optional;

/** Finds who calls by their name, with the rights that they have now. */
public interface Callers {

    /** Nothing where there is no such person, or their account is closed. */
    Optional<Caller> callerNamed(String name);
}
