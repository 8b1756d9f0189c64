package org.gantrel.client;

import picocli.CommandLine.Option;

/** A command that prints rows of a list that only grows, the newest first or sorted by a column. */
public abstract class SortedList extends NewestFirst {

    @Option(
            names = "--sort",
            paramLabel = "COLUMN",
            description = "Sorted by a column, such as state; -COLUMN for the greatest first. The newest 10,000 that"
                    + " match are sorted.")
    protected String sort;
}
