package org.gantrel.service.team;

import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import org.gantrel.core.access.Deed;
import org.gantrel.core.access.Role;
import org.gantrel.service.refusal.Refusal;

/**
 * Who calls, and what they may do. Every call goes through one of the {@code require} methods or asks only for the
 * teams that the caller may see.
 *
 * @param roles the role in each team, by the team's name
 */
public record Caller(String name, String fullName, boolean administrator, Map<String, Role> roles) {

    /** The service itself, when it acts without a person: demo data, first start. */
    public static Caller service() {
        return new Caller("gantrel", "Gantrel", true, Map.of());
    }

    /** Somebody who is not known, for the audit record. */
    public static Caller nobody() {
        return new Caller("(nobody)", "", false, Map.of());
    }

    public Role roleIn(String team) {
        return administrator ? Role.ADMINISTRATOR : roles.get(team);
    }

    public boolean may(Deed deed, String team) {
        Role role = roleIn(team);
        return role != null && deed.allowedTo(role);
    }

    /** The deeds that the caller may do in a team. */
    public List<Deed> deedsIn(String team) {
        return Arrays.stream(Deed.values()).filter(deed -> may(deed, team)).toList();
    }

    /**
     * Checks a deed in a team. A team that the caller may not even see is as good as not there.
     *
     * @throws Refusal where the caller may not
     */
    public void require(Deed deed, String team) {
        if (!may(deed, team)) {
            throw Refusal.notAllowed("to " + deed.about() + " (team " + team + ") takes the role "
                    + deed.least().word() + "; you are "
                    + (roleIn(team) == null ? "not in that team" : roleIn(team).word() + " there"));
        }
    }

    /**
     * Checks that there is any team in which the caller may do a deed: what a body says, and what is wrong with it, is
     * for those who could do it somewhere.
     *
     * @throws Refusal where there is none
     */
    public void requireSomewhere(Deed deed) {
        boolean somewhere = administrator || roles.values().stream().anyMatch(deed::allowedTo);
        if (!somewhere) {
            throw Refusal.notAllowed(
                    "to " + deed.about() + " takes the role " + deed.least().word() + " in a team");
        }
    }

    /** Checks a deed that concerns the whole service. */
    public void require(Deed deed) {
        if (!(administrator && deed.allowedTo(Role.ADMINISTRATOR))) {
            throw Refusal.notAllowed("to " + deed.about() + " takes an administrator");
        }
    }

    /** Those of the teams in which the caller may do something. */
    public List<Team> among(Collection<Team> teams, Deed deed) {
        return teams.stream().filter(team -> may(deed, team.name())).toList();
    }
}
