package org.gantrel.client.run;

import org.gantrel.client.NounCommand;
import picocli.CommandLine.Command;

/** Executions of jobs. */
@Command(
        name = "run",
        description = "Runs: what happened, and what is happening.",
        subcommands = {
            RunList.class,
            RunShow.class,
            RunLog.class,
            RunItems.class,
            RunOutputs.class,
            RunRows.class,
            RunCancel.class,
            RunRepeat.class
        })
public final class RunCommand extends NounCommand {}
