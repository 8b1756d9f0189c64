package org.gantrel.service.notification;

import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.gantrel.service.journal.Journal;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Propagation;
import org.springframework.transaction.annotation.Transactional;

/**
 * Tells whoever looks at messages that some changed. They are written, and go out, some time after what they tell of, so
 * its own events come too early for that.
 */
@Component
@Transactional(propagation = Propagation.MANDATORY)
class MessageNews {

    private static final String CHANGED = "gantrel.message.changed";

    private final Journal journal;
    private final Teams teams;

    MessageNews(Journal journal, Teams teams) {
        this.journal = journal;
        this.teams = teams;
    }

    /** There are new ones. @param team whose they are; empty where they are the installation's */
    void written(Optional<Long> run, String team) {
        journal.write(CHANGED, run.orElse(null), team, Map.of());
    }

    /** Some have gone out, or could not. @param of the teams whose they are; 0 for the installation */
    void changed(Set<Long> of) {
        if (of.contains(0L)) {
            written(Optional.empty(), "");
        }
        teams.all().stream()
                .filter(team -> of.contains(team.id()))
                .map(Team::name)
                .forEach(team -> written(Optional.empty(), team));
    }
}
