package org.gantrel.client.job;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
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

    private static final int MOST = 1_000;

    @Parameters(paramLabel = "NAME", description = "The job.")
    private String name;

    @Option(
            names = "--also",
            paramLabel = "NAME",
            split = ",",
            description = "Jobs that go in the same move, such as the chains that it is a step of.")
    private List<String> also = List.of();

    @Option(names = "--yes", description = "Does it without asking.")
    private boolean yes;

    @Override
    public Integer call() {
        String open = goesOn();
        if (!yes) {
            if (System.console() == null) {
                throw new Wrong("retiring a job asks first, and there is no terminal; --yes does it without asking");
            }
            if (!open.isEmpty()) {
                Printer.say(open);
            }
            String answer = System.console().readLine("Type the name of the job to retire it: ");
            if (!name.equals(answer)) {
                Printer.say("nothing was changed");
                return 1;
            }
        }
        api().delete(Api.path("/api/v1/jobs/" + Api.encode(name), Map.of("also", String.join(",", also))));
        Printer.say(
                String.join(", ", Stream.concat(Stream.of(name), also.stream()).toList())
                        + (also.isEmpty() ? " is retired" : " are retired"));
        if (yes && !open.isEmpty()) {
            Printer.say(open);
        }
        return 0;
    }

    /** What this leaves alone: a run that has been written down goes on. */
    private String goesOn() {
        List<String> open = new ArrayList<>();
        Stream.concat(Stream.of(name), also.stream())
                .flatMap(job ->
                        api().list("/api/v1/runs", Map.of("job", job, "state", "waiting,running"), MOST).stream())
                .forEach(run -> open.add(run.path("number").asString()));
        if (open.isEmpty()) {
            return "";
        }
        return (open.size() == 1
                        ? "1 run of it has not ended and goes on: "
                        : open.size() + " runs of it have not ended and go on, such as ")
                + open.get(0) + "; cancel what is not wanted: gantrel run cancel N";
    }
}
