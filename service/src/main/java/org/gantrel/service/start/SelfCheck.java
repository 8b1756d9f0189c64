package org.gantrel.service.start;

import java.io.IOException;
import java.io.PrintStream;
import java.net.InetAddress;
import java.net.UnknownHostException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Instant;
import java.util.Optional;
import java.util.Set;
import org.gantrel.service.beside.CharacterSet;
import org.gantrel.service.execution.Accounts;
import org.gantrel.service.settings.Settings;
import org.gantrel.service.settings.TlsFiles;

/** Says how a service would stand that is started with these settings, and starts nothing. */
final class SelfCheck {

    private final Settings settings;
    private final PrintStream out;
    private int doubts;

    SelfCheck(Settings settings, PrintStream out) {
        this.settings = settings;
        this.out = out;
    }

    private void fine(String text) {
        out.println("fine    " + text);
    }

    private void doubt(String text) {
        doubts++;
        out.println("DOUBT   " + text);
    }

    /** Prints what it finds, and returns how much of it is doubtful. */
    int run() {
        data();
        CharacterSet.OWN.complaint().ifPresent(this::doubt);
        account();
        network();
        out.println(
                settings.mail().isPresent()
                        ? "fine    mails go out by " + settings.mail().get()
                        : "note    no mail server is set (mail-host), so mails wait in the outbox");
        return doubts;
    }

    private void data() {
        Path data = settings.data();
        try {
            if (!Files.isDirectory(data)) {
                fine("the data folder " + data + " is made at the first start");
            } else if (Set.copyOf(PosixFilePermissions.fromString("rwx------"))
                    .containsAll(Files.getPosixFilePermissions(data))) {
                fine("the data folder " + data + " is its owner's only");
            } else {
                doubt("others can look into the data folder " + data + "; the start closes it, or 'chmod 700 " + data
                        + "'");
            }
        } catch (IOException e) {
            doubt("the data folder " + data + " cannot be looked at: " + e.getMessage());
        }
    }

    private void account() {
        String own = Accounts.own();
        Optional<String> runAs = settings.runAs();
        if (runAs.isEmpty()) {
            doubt("jobs that name no account run as " + own
                    + ", as the service does: whoever edits jobs can do what the service can; --run-as names another");
            return;
        }
        new Accounts()
                .commandComplaint(runAs.get())
                .ifPresentOrElse(
                        this::doubt,
                        () -> fine("jobs that name no account run as " + runAs.get() + ", the service as " + own));
    }

    private void network() {
        try {
            boolean here = InetAddress.getByName(settings.address()).isLoopbackAddress();
            if (here || settings.web().tlsCertificate().isPresent()) {
                fine("it listens on " + Settings.place(settings.address(), settings.port())
                        + (here ? ", for this host only" : ", by TLS"));
            } else {
                doubt(
                        "it listens on " + Settings.place(settings.address(), settings.port())
                                + " without TLS; --tls-cert and --tls-key, or a proxy before it, protect passwords on their way");
            }
            settings.web()
                    .tlsCertificate()
                    .flatMap(file -> TlsFiles.warning(file, Instant.now()))
                    .ifPresent(this::doubt);
        } catch (UnknownHostException e) {
            doubt("there is no address '" + settings.address() + "' to listen on");
        }
    }
}
