package org.gantrel.client.run;

import java.io.IOException;
import java.io.InputStream;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.output.Visible;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Prints the log of a run. */
@Command(name = "log", description = "Prints the log of a run.")
final class RunLog extends ServiceCommand {

    @Parameters(paramLabel = "NUMBER", description = "The run.")
    private long number;

    @Option(
            names = {"-f", "--follow"},
            description = "Goes on as the log grows, until the run ends.")
    private boolean follow;

    @Option(
            names = "--raw",
            description = "Prints it as it is: what could steer a terminal is sent, not shown as signs.")
    private boolean raw;

    @Option(names = "--try", paramLabel = "N", description = "That of an earlier try (the latest).")
    private Integer attempt;

    @Override
    public Integer call() throws IOException {
        String path = "/api/v1/runs/" + number + "/log" + (attempt == null ? "" : "?try=" + attempt);
        if (!follow) {
            try (InputStream log = api().stream(path)) {
                if (raw) {
                    log.transferTo(System.out);
                } else {
                    Visible.copy(log, System.out);
                }
            }
            System.out.flush();
            return 0;
        }
        return RunPrinter.exitCode(RunWait.end(api(), number, text -> {
            System.out.print(raw ? text : Visible.of(text));
            System.out.flush();
        }));
    }
}
