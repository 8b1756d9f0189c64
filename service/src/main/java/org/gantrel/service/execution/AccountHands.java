package org.gantrel.service.execution;

import java.io.IOException;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.gantrel.core.job.Job;
import org.gantrel.service.places.Hands;
import org.gantrel.service.places.HelperHands;
import org.gantrel.service.places.LocalHands;
import org.gantrel.service.places.NotReachable;
import org.gantrel.service.places.Reachable;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.team.Team;
import org.gantrel.service.team.Teams;
import org.springframework.stereotype.Component;

/** Says with whose rights, and within which folders, the work of a job meets the files of this host. */
@Component
public class AccountHands {

    private final Actors actors;
    private final Teams teams;
    private final Settings settings;

    AccountHands(Actors actors, Teams teams, Settings settings) {
        this.actors = actors;
        this.teams = teams;
        this.settings = settings;
    }

    /**
     * What works with files for a job: as the account that the job acts as, where that is another than the service's own.
     *
     * @param team whose folders count, which for a roster is the team that keeps it
     * @throws NotReachable where the job may not act as that account, so that it may not look as it either
     */
    public Hands of(String team, Job job) throws IOException {
        if (job instanceof Job.Task task) {
            Optional<String> complaint = actors.accountComplaint(task);
            if (complaint.isPresent()) {
                throw new NotReachable(complaint.get());
            }
        }
        return of(team, job instanceof Job.Task task ? actors.account(task) : actors.usual());
    }

    private Hands of(String team, Optional<Account> account) throws IOException {
        List<String> folders = teams.named(team).map(Team::folders).orElse(List.of());
        Reachable reach = Reachable.of(folders, settings.ownFolders());
        List<String> prefix =
                account.map(each -> each.prefix(actors.own(), Map.of())).orElse(List.of());
        return prefix.isEmpty() ? new LocalHands(reach) : new HelperHands(prefix, reach);
    }
}
