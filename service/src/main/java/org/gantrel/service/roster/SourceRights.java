package org.gantrel.service.roster;

import java.util.Collection;
import java.util.Optional;
import org.gantrel.core.roster.Roster;
import org.gantrel.service.team.Caller;

/** Says whether somebody may draw the rows of a roster from where it says. */
public interface SourceRights {

    /**
     * What speaks against it; nothing where nothing does. What the caller may not see is as good as not there.
     *
     * @param together the names of jobs that are saved in the same breath
     */
    Optional<String> complaint(Caller caller, Roster roster, Collection<String> together);
}
