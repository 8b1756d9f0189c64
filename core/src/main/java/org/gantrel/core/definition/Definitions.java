package org.gantrel.core.definition;

import java.util.List;

/** What a definition file holds, each kind in the order of the file. */
public record Definitions(
        List<Definition> jobs,
        List<CalendarDefinition> calendars,
        List<RosterDefinition> rosters,
        List<LaneDefinition> lanes,
        List<TellingDefinition> tellings) {

    public Definitions {
        jobs = List.copyOf(jobs);
        calendars = List.copyOf(calendars);
        rosters = List.copyOf(rosters);
        lanes = List.copyOf(lanes);
        tellings = List.copyOf(tellings);
    }
}
