package org.gantrel.client;

import picocli.CommandLine;
import picocli.CommandLine.Option;

/** A noun that its verbs hang on; by itself it says which there are. */
public abstract class NounCommand implements Runnable {

    @Option(
            names = {"-h", "--help"},
            usageHelp = true,
            description = "Shows this help.")
    private boolean help;

    @CommandLine.Spec
    private CommandLine.Model.CommandSpec spec;

    @Override
    public void run() {
        throw new CommandLine.ParameterException(
                spec.commandLine(),
                "a verb is missing: " + String.join(", ", spec.subcommands().keySet()));
    }
}
