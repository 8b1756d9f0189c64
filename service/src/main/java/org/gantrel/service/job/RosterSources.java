package org.gantrel.service.job;

import java.util.Collection;
import java.util.Optional;
import org.gantrel.core.access.Deed;
import org.gantrel.core.roster.Roster;
import org.gantrel.core.text.Nearest;
import org.gantrel.service.credential.Credentials;
import org.gantrel.service.roster.SourceRights;
import org.gantrel.service.team.Caller;
import org.springframework.stereotype.Component;
import org.springframework.transaction.annotation.Transactional;

/** Rows may come from what a job left, for those who may see its runs, and by credentials that are for the team. */
@Component
@Transactional(readOnly = true)
class RosterSources implements SourceRights {

    private final Jobs jobs;
    private final Credentials credentials;

    RosterSources(Jobs jobs, Credentials credentials) {
        this.jobs = jobs;
        this.credentials = credentials;
    }

    @Override
    public Optional<String> complaint(Caller caller, Roster roster, Collection<String> together) {
        Optional<Roster.Source> source = roster.source();
        if (source.isPresent() && source.get() instanceof Roster.FromOutput output) {
            boolean seen = together.contains(output.job())
                    || jobs.named(output.job())
                            .filter(job -> caller.may(Deed.SEE_RUNS, job.team()))
                            .isPresent();
            if (!seen) {
                return Optional.of("there is no job '" + output.job() + "'"
                        + Nearest.hint(
                                output.job(),
                                jobs.all(caller).stream().map(JobEntry::name).toList()));
            }
        }
        return source.map(Roster.Source::credential)
                .filter(name -> !name.isEmpty())
                .flatMap(name -> credentials.complaint(name, roster.team()));
    }
}
