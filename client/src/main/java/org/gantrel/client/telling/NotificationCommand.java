package org.gantrel.client.telling;

import org.gantrel.client.NounCommand;
import picocli.CommandLine.Command;

/** Rules that say who is told of what. */
@Command(
        name = "notification",
        description = "Rules that say who is told of what.",
        subcommands = {
            TellingVerbs.Listing.class,
            TellingVerbs.Show.class,
            TellingVerbs.Log.class,
            TellingVerbs.PutBack.class,
            TellingVerbs.Retire.class
        })
public final class NotificationCommand extends NounCommand {}
