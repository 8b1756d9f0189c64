package org.gantrel.client.job;

import org.gantrel.client.ServiceCommand;
import org.gantrel.client.Wrong;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Takes a job out of use. */
@Command(
        name = "retire",
        description =
                "Takes a job out of use: it starts no more, and its history stays. Importing it again brings it back.")
final class JobRetire extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The job.")
    private String name;

    @Option(names = "--yes", description = "Does it without asking.")
    private boolean yes;

    @Override
    public Integer call() {
        if (!yes) {
            if (System.console() == null) {
                throw new Wrong("retiring a job asks first, and there is no terminal; --yes does it without asking");
            }
            String answer = System.console().readLine("Type the name of the job to retire it: ");
            if (!name.equals(answer)) {
                Printer.say("nothing was changed");
                return 1;
            }
        }
        api().delete("/api/v1/jobs/" + Api.encode(name));
        Printer.say(name + " is retired");
        return 0;
    }
}
