package org.gantrel.client.telling;

import org.gantrel.client.NounCommand;
import picocli.CommandLine.Command;

/** Digests: summaries that come at their times. */
@Command(
        name = "digest",
        description = "Digests: summaries that come at their times.",
        subcommands = {
            TellingVerbs.Listing.class,
            TellingVerbs.Show.class,
            TellingVerbs.Log.class,
            TellingVerbs.PutBack.class,
            TellingVerbs.Retire.class
        })
public final class DigestCommand extends NounCommand {}
