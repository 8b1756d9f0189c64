package org.gantrel.service.team;

import java.util.Optional;

/** Finds who calls by their name, with the rights that they have now. */
public interface Callers {

    /** Nothing where there is no such person, or their account is closed. */
    Optional<Caller> callerNamed(String name);

    /** Who saved something, with the rights that they have now; the service itself has saved what came with it. */
    default Optional<Caller> whoSaved(String name) {
        Caller service = Caller.service();
        return name.equals(service.name()) ? Optional.of(service) : callerNamed(name);
    }
}
