package org.gantrel.service.roster;

import java.util.Collection;
import java.util.List;
import org.gantrel.core.job.Job;
import org.gantrel.core.roster.Roster.Row;
import org.gantrel.service.team.Caller;

/** What the jobs that run over a roster say of its rows. */
public interface RowUse {

    /** How many complaints are told one by one. */
    int MOST_SAID = 20;

    /**
     * What of some rows a job could not take that the caller may see, by row and column, at most {@link #MOST_SAID} and then how many more.
     *
     * @param together jobs that are saved in the same breath
     */
    List<String> complaints(Caller caller, String roster, List<Row> rows, Collection<Job> together);
}
