package org.gantrel.client.job;

import org.gantrel.client.NounCommand;
import picocli.CommandLine.Command;

/** What can be run. */
@Command(
        name = "job",
        description = "Jobs: tasks and chains.",
        subcommands = {
            JobList.class,
            JobShow.class,
            JobStart.class,
            JobRehearse.class,
            JobTold.class,
            JobRevisions.Listing.class,
            JobRevisions.PutBack.class,
            JobRetire.class
        })
public final class JobCommand extends NounCommand {}
