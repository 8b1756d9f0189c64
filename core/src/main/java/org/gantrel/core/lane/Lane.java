package org.gantrel.core.lane;

import java.util.List;

/**
 * A lane: so many places that jobs of several teams share.
 *
 * @param team the team that owns it
 * @param width how many places it has
 * @param forTeams the other teams whose jobs may use it
 */
public record Lane(String name, String team, String about, int width, List<String> forTeams) {

    public static final int WIDEST = 1_000;

    public Lane {
        forTeams = List.copyOf(forTeams);
    }

    /** Whether jobs of a team may use it. */
    public boolean isFor(String other) {
        return team.equals(other) || forTeams.contains(other);
    }
}
