package org.gantrel.client.run;

import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Tells the others who looks after a failure. */
@Command(
        name = "see-to",
        description = "Says that you see to a run that ended badly, so that others need not.",
        footer = {"", "Example:", "  gantrel run see-to 4711"})
final class RunSeeTo extends ServiceCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--no-more", description = "Says that you do so no more.")
    private boolean noMore;

    @Override
    public Integer call() {
        String path = "/api/v1/runs/" + number + "/charge";
        if (noMore) {
            api().delete(path);
            Printer.say("nobody sees to run " + number + " any more");
        } else {
            api().put(path, null);
            Printer.say("you see to run " + number);
        }
        return 0;
    }
}
