package org.gantrel.client;

import java.util.concurrent.Callable;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** A command that speaks to the service. */
public abstract class ServiceCommand implements Callable<Integer> {

    @Mixin
    private Service service;

    @Option(
            names = {"-h", "--help"},
            usageHelp = true,
            description = "Shows this help.")
    private boolean help;

    protected final Printer printer = new Printer();

    protected Api api() {
        return service.api();
    }

    protected Service service() {
        return service;
    }
}
