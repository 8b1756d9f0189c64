package org.gantrel.client.telling;

import java.util.LinkedHashMap;
import java.util.Map;
import org.gantrel.client.ServiceCommand;
import org.gantrel.client.api.Api;
import org.gantrel.client.output.Printer;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;
import tools.jackson.databind.JsonNode;

/** Has somebody stand in. */
@Command(
        name = "cover",
        description = {
            "Has somebody stand in for whoever it would be, from the handover time of one day until that of another.",
            "Whoever may edit the list may say so of anybody; everybody in the team of themselves."
        },
        footer = {
            "",
            "Example:",
            "  gantrel duty cover night-desk --from 2026-12-24 --until 2026-12-27 --person tove.lind"
        })
final class DutyCover extends ServiceCommand {

    @Parameters(paramLabel = "NAME", description = "The duty list.")
    private String name;

    @Option(names = "--from", required = true, paramLabel = "DAY", description = "The day on which it begins.")
    private String from;

    @Option(names = "--until", required = true, paramLabel = "DAY", description = "The day on which it ends.")
    private String until;

    @Option(names = "--person", paramLabel = "PERSON", description = "Who stands in; yourself where nobody is named.")
    private String person;

    @Override
    public Integer call() {
        Map<String, Object> body = new LinkedHashMap<>();
        body.put("from", TellingVerbs.day("--from", from));
        body.put("until", TellingVerbs.day("--until", until));
        if (person != null) {
            body.put("person", person);
        }
        JsonNode shown = api().post("/api/v1/tellings/duty/" + Api.encode(name) + "/covers", body);
        TellingVerbs.watches(printer, shown);
        shown.path("warnings").forEach(warning -> Printer.say("gantrel: warning: " + warning.asString()));
        return 0;
    }
}
