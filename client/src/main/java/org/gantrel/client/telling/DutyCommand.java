package org.gantrel.client.telling;

import org.gantrel.client.NounCommand;
import picocli.CommandLine.Command;

/** Duty lists: who is on duty when. */
@Command(
        name = "duty",
        description = "Duty lists: who is on duty when.",
        subcommands = {
            TellingVerbs.Listing.class,
            TellingVerbs.Show.class,
            DutyCover.class,
            DutySwap.class,
            TellingVerbs.Log.class,
            TellingVerbs.PutBack.class,
            TellingVerbs.Retire.class
        })
public final class DutyCommand extends NounCommand {}
