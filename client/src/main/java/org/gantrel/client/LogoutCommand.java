package org.gantrel.client;

import org.gantrel.client.api.SignInFile;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;

/** Forgets the token of a service. */
@Command(name = "logout", description = "Forgets the token that 'login' kept.")
final class LogoutCommand extends ServiceCommand {

    @Override
    public Integer call() {
        new SignInFile().forget(service().url());
        Printer.say("signed out of " + service().url());
        return 0;
    }
}
