package org.gantrel.service.sweep;

import java.util.Map;
import java.util.function.Consumer;
import java.util.function.Predicate;
import org.gantrel.core.job.Job;
import org.gantrel.core.roster.Roster;
import org.gantrel.service.run.Run;

/** Draws rows from data. */
public interface RowSource {

    /**
     * Hands over every row in its order, one in memory at a time.
     *
     * @param source every expression worked out
     * @param run the sweep that draws, whose log tells of it
     * @throws RuntimeException where rows cannot be had; its message is for people
     */
    void draw(Roster roster, Roster.Source source, Job job, Run run, Consumer<Map<String, String>> each);

    /**
     * The same for a rehearsal, which no run and no log tells of.
     *
     * @param each says whether it wants more
     */
    void glance(Roster roster, Roster.Source source, Job job, Predicate<Map<String, String>> each);
}
