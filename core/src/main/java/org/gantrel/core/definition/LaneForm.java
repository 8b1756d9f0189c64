package org.gantrel.core.definition;

import java.util.List;
import org.gantrel.core.job.Job;
import org.gantrel.core.lane.Lane;
import org.gantrel.core.yaml.Section;

/** Reads a lane. */
final class LaneForm {

    private LaneForm() {}

    static Lane read(Section section) {
        section.knowing("lane", "team", "about", "width", "for-teams");
        if (!section.has("width")) {
            section.complain("width", "is missing: how many places the lane has, such as 2");
        }
        List<String> teams = section.texts("for-teams", Job.LONGEST_NAME);
        for (String team : teams) {
            if (!team.matches(Job.NAME)) {
                section.complain("for-teams", "'" + team + "' is no name of a team");
            }
        }
        return new Lane(
                CommonForm.name(section, "lane", "the name of the lane"),
                CommonForm.team(section),
                CommonForm.about(section),
                CommonForm.number(section, "width", 1, Lane.WIDEST).orElse(1),
                teams);
    }
}
