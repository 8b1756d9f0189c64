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
            RunWhy.class,
            RunCompare.class,
            RunTries.Now.class,
            RunTries.GiveUp.class,
            RunCancel.class,
            RunRepeat.class,
            ChainCommands.SkipStep.class,
            ChainCommands.Approvals.class,
            ChainCommands.Decide.class,
            ChainCommands.Hold.class,
            ChainCommands.LetGo.class,
            RunSeeTo.class,
            RunLineage.class
        })
public final class RunCommand extends NounCommand {}
