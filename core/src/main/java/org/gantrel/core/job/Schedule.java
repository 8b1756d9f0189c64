package org.gantrel.core.job;

import java.time.ZoneId;
import java.util.Map;
import org.gantrel.core.when.Timetable;
import org.gantrel.core.when.When;

/**
 * When a job starts by itself, with the values for that start.
 *
 * @param name unique within the job
 * @param when the rule as it was written
 * @param zone the zone whose local times the rule means
 * @param on whether a new schedule begins switched on
 */
public record Schedule(String name, String when, ZoneId zone, boolean on, Map<String, String> with) {

    public Schedule {
        with = Map.copyOf(with);
    }

    public Timetable timetable() {
        return When.parse(when);
    }
}
