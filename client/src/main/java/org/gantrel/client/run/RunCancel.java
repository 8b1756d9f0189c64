package org.gantrel.client.run;

import java.io.IOException;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Format;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Stops a run. */
@Command(name = "cancel", description = "Asks a run to stop; ten seconds later it is ended by force.")
final class RunCancel extends ServiceCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(names = "--wait", description = "Waits for the end.")
    private boolean wait;

    @Override
    public Integer call() throws IOException {
        api().post("/api/v1/runs/" + number + "/cancellation", null);
        if (wait) {
            new RunPrinter(printer).print(RunWait.end(api(), number), Format.table);
        } else {
            Printer.say("run " + number + " was asked to stop");
        }
        return 0;
    }
}
