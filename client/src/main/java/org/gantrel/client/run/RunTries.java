package org.gantrel.client.run;

import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** What can be done with a run that waits for its next try. */
final class RunTries {

    private RunTries() {}

    @Command(
            name = "try-now",
            description = "Has the next try of a run come at once.",
            footer = {"", "Example:", "  gantrel run try-now 1042"})
    static final class Now extends ServiceCommand {

        @Parameters(paramLabel = "NUMBER", description = "The run.")
        private long number;

        @Override
        public Integer call() {
            api().post("/api/v1/runs/" + number + "/next-try", null);
            Printer.say("the next try of run " + number + " comes now");
            return 0;
        }
    }

    @Command(
            name = "give-up",
            description = "Lets a run end with what its last try came to.",
            footer = {"", "Example:", "  gantrel run give-up 1042"})
    static final class GiveUp extends ServiceCommand {

        @Parameters(paramLabel = "NUMBER", description = "The run.")
        private long number;

        @Override
        public Integer call() {
            api().delete("/api/v1/runs/" + number + "/next-try");
            Printer.say("run " + number + " is not tried again");
            return 0;
        }
    }
}
