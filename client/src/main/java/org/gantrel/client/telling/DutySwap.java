package org.gantrel.client.telling;

import java.util.Map;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Exchanges two weeks. */
@Command(
        name = "swap",
        description = "Exchanges two weeks of duty, each named by any of its days from the handover on.",
        footer = {"", "Example:", "  gantrel duty swap night-desk --week 2026-12-07 --with 2026-12-14"})
final class DutySwap extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The duty list.")
    private String name;

    @Option(names = "--week", required = true, paramLabel = "DAY", description = "A day of the one week.")
    private String week;

    @Option(names = "--with", required = true, paramLabel = "DAY", description = "A day of the other.")
    private String with;

    @Override
    public Integer call() {
        JsonNode shown = api().post(
                        "/api/v1/tellings/duty/" + Api.encode(name) + "/swaps",
                        Map.of("week", TellingVerbs.day("--week", week), "with", TellingVerbs.day("--with", with)));
        TellingVerbs.watches(printer, shown);
        shown.path("warnings").forEach(warning -> Printer.say("gantrel: warning: " + warning.asString()));
        return 0;
    }
}
