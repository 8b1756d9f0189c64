package org.gantrel.client;

import picocli.CommandLine.Option;

/** A command that prints the newest rows of a list that only grows. */
public abstract class NewestFirst extends ListCommand {

    @Option(names = "--limit", paramLabel = "N", defaultValue = "50", description = "At most so many (50).")
    protected int limit;
}
