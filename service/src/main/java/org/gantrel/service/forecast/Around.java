package org.gantrel.service.forecast;

import java.util.HashSet;
import java.util.Set;
import org.gantrel.core.expression.PlannedTime;
import org.gantrel.core.job.Job;
import org.gantrel.core.run.Admission.Demand;
import org.gantrel.service.forecast.Outlooks.Outlook;

/**
 * The chain that a step belongs to, as its parts are planned.
 *
 * @param inherited the lanes that are held around its steps
 * @param outlook says which conditions will hold
 */
record Around(Job.Chain chain, PlannedTime planned, Set<String> inherited, int depth, Outlook outlook) {

    /** Around the steps of a chain that is a step of this one. */
    Around inner(Job.Chain inner, Outlook within) {
        return new Around(inner, planned, both(inherited, inner), depth + 1, within);
    }

    /** @param held the lanes that are held around the chain itself */
    static Around of(Job.Chain chain, PlannedTime planned, Set<String> held, Outlook outlook) {
        return new Around(chain, planned, both(held, chain), 0, outlook);
    }

    private static Set<String> both(Set<String> lanes, Job.Chain chain) {
        var both = new HashSet<>(lanes);
        both.addAll(chain.rules().lanes().keySet());
        return both;
    }

    /** What a part takes of what is not held around it already. */
    Demand left(Demand demand) {
        return demand.within(inherited);
    }
}
